import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { startThrowawayServer } from '../lib/throwawayServer.mjs';

const CAR = '/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0002';
const BUS = '/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';
const VAN = '/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0004';
const FLAGS = ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'];

/** Cases on the real screen: reading to verdict, planning of eight drivers, first load, a corner dragged, zoom through ten million samples. */
export async function browserCases(wav, sweep) {
  const server = await startThrowawayServer();
  const { url } = server;
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: FLAGS });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const secondVisit = await visitsWithoutServer(browser, `${url}${BUS}/run/gain:bass`);
    const firstLoad = await scriptBytes(page, `${url}${BUS}/run/gain:bass`);
    const readings = await readingToVerdict(page);
    const plans = await eightDrivers(page, url);
    const deconvolution = await sweepToResponse(page, url, sweep);
    const drag = await dragFrames(page, url);
    const band = await bandFrames(page, url);
    const zoom = await zoomFrames(page, url, wav);
    return { firstLoad, secondVisit, readings, plans, deconvolution, drag, band, zoom };
  } finally {
    await browser.close();
    await server.remove();
  }
}

/** How long a later visit takes from its address to the verdict on the screen, with no server to ask. @returns times in ms */
async function visitsWithoutServer(browser, address) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  try {
    const first = await context.newPage();
    await first.goto(address);
    await first.getByTestId('verdict').waitFor();
    await first.evaluate(() => globalThis.navigator.serviceWorker.ready.then(() => undefined));
    // Everything that the worker keeps comes after it is ready.
    await first.waitForTimeout(5000);
    await first.close();
    await context.setOffline(true);
    const times = [];
    for (let visit = 0; visit < 5; visit += 1) {
      const page = await context.newPage();
      const began = performance.now();
      await page.goto(address);
      await page.getByTestId('verdict').waitFor();
      times.push(performance.now() - began);
      await page.close();
    }
    return times;
  } finally {
    await context.close();
  }
}

/** Script that a first visit to the run fetches, as it travels (compressed). */
async function scriptBytes(page, address) {
  await page.goto(address);
  await page.getByTestId('verdict').waitFor();
  await page.waitForLoadState('networkidle');
  return page.evaluate(() =>
    performance
      .getEntriesByType('resource')
      .filter(({ name }) => name.endsWith('.js'))
      .reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0),
  );
}

/** From the Enter key to the frame that shows the new verdict. */
async function readingToVerdict(page) {
  const times = [];
  for (let i = 0; i < 20; i += 1) {
    await page.evaluate(() => document.activeElement?.blur());
    await page.locator('body').press('r');
    await page.keyboard.type(i % 2 === 0 ? '11.2' : '15.8');
    // Set up before the key is pressed: the two must not race.
    await page.evaluate(() => {
      window.measured = new Promise((resolve, reject) => {
        setTimeout(() => reject(new Error('no verdict came')), 5000);
        let pressed = 0;
        const hear = (event) => {
          if (event.key === 'Enter') pressed = event.timeStamp;
        };
        document.addEventListener('keydown', hear, { once: true, capture: true });
        const observer = new MutationObserver(() => {
          observer.disconnect();
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - pressed)));
        });
        observer.observe(document.querySelector('[data-testid=verdict]'), { subtree: true, childList: true, characterData: true });
      });
    });
    await page.keyboard.press('Enter');
    times.push(await page.evaluate(() => window.measured));
    await page.waitForTimeout(150);
  }
  return times;
}

/** From the click that makes it eight dual-coil drivers to the frame that shows their wirings, the chosen one drawn. */
async function eightDrivers(page, url) {
  await page.goto(`${url}/loads/wiring`);
  const more = page.getByRole('button', { name: /^More drivers/ });
  for (let i = 0; i < 6; i += 1) await more.click();
  const times = [];
  for (let i = 0; i < 20; i += 1) {
    await page.getByRole('button', { name: /^Fewer drivers/ }).click();
    await page.getByText('7 of 8').waitFor();
    times.push(
      await more.evaluate(
        (button) =>
          new Promise((resolve) => {
            const pressed = performance.now();
            const observer = new MutationObserver(() => {
              if (document.querySelectorAll('[data-terminal]').length !== 34) return;
              observer.disconnect();
              requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - pressed)));
            });
            observer.observe(document.querySelector('main'), { subtree: true, childList: true });
            button.click();
          }),
      ),
    );
  }
  return times;
}

/** From the choice of a ten-second recording to its response on the screen, and the frames meanwhile. */
async function sweepToResponse(page, url, sweep) {
  const times = [];
  const frames = [];
  for (const volume of [11, 12, 13, 14, 15]) {
    await page.goto(`${url}${CAR}/run/factory:source`);
    await page.getByRole('radio', { name: '10 s' }).check({ force: true });
    await page.getByLabel('Volume', { exact: true }).fill(String(volume));
    const drawn = page.getByRole('img', { name: new RegExp(`volume ${volume}\\b`) });
    await page.evaluate(() => {
      window.gaps = [];
      let last = performance.now();
      const tick = (now) => {
        window.gaps.push(now - last);
        last = now;
        requestAnimationFrame(tick);
      };
      requestAnimationFrame(tick);
      document.querySelector('input[type=file]').addEventListener('change', () => {
        window.chosen = performance.now();
        window.gaps = [];
      });
      window.shown = new Promise((resolve) => {
        const observer = new MutationObserver(() => {
          if (document.querySelectorAll('[aria-label=Recordings] li').length === window.before + 1) {
            observer.disconnect();
            requestAnimationFrame(() => setTimeout(() => resolve(performance.now())));
          }
        });
        window.before = document.querySelectorAll('[aria-label=Recordings] li').length;
        observer.observe(document.querySelector('main'), { subtree: true, childList: true });
      });
    });
    await page.getByLabel('Capture file').setInputFiles(sweep);
    times.push(await page.evaluate(async () => (await window.shown) - window.chosen));
    frames.push(...(await page.evaluate(() => window.gaps)));
    await drawn.waitFor();
  }
  return { times, frames };
}

/** Frame times while a corner is dragged to and fro over four ways and their sum, and how many of the frames drew another curve. */
async function dragFrames(page, url) {
  await page.goto(`${url}${VAN}/crossovers`);
  await page.getByRole('button', { name: 'Propose' }).click();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  return framesWhileDragged(page, page.getByRole('slider', { name: 'Middle left and right, high-pass' }), 'path[data-curve]');
}

/** The same for a band of the equaliser, over responses of three places, their average, the target and what the bands make of it. */
async function bandFrames(page, url) {
  await page.goto(`${url}${CAR}/run/response:boot`);
  for (const [k, place] of ['left ear', 'middle of the head', 'right ear'].entries()) {
    const lines = Array.from(
      { length: 121 },
      (_, n) => `${(20 * 2 ** (n / 12)).toFixed(2)} ${(80 + 5 * Math.sin(n / 6 + k / 5)).toFixed(2)}`,
    );
    await page.getByLabel('The microphone stands at').fill(place);
    const file = { name: `${place}.txt`, mimeType: 'text/plain', buffer: Buffer.from(lines.join('\n')) };
    await page.getByRole('main').locator('input[type=file]').first().setInputFiles(file);
    await page.getByRole('list', { name: 'Recorded places' }).getByRole('listitem').nth(k).waitFor();
  }
  return framesWhileDragged(page, page.getByRole('slider', { name: 'Band 1, frequency and gain' }), 'path[data-curve]');
}

async function framesWhileDragged(page, handle, curve) {
  await handle.evaluate((element) => element.scrollIntoView({ block: 'center' }));
  const box = await handle.boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  // A move before every frame, as a finger gives them: a remote mouse is slower than the screen.
  const result = await handle.evaluate(
    (element, from) =>
      new Promise((resolve) => {
        const gaps = [];
        let repaints = 0;
        const curves = () => [...document.querySelectorAll(from.curve)].map((path) => path.getAttribute('d')).join();
        let drawn = curves();
        let last = performance.now();
        const end = last + 3000;
        const tick = (now) => {
          gaps.push(now - last);
          last = now;
          const next = curves();
          if (next !== drawn) repaints += 1;
          drawn = next;
          const clientX = from.x + 120 * Math.sin(gaps.length / 20);
          const clientY = from.y + 40 * Math.sin(gaps.length / 13);
          element.dispatchEvent(new window.PointerEvent('pointermove', { bubbles: true, pointerId: 1, clientX, clientY }));
          if (now < end) requestAnimationFrame(tick);
          else resolve({ gaps: gaps.slice(1), repaints });
        };
        requestAnimationFrame(tick);
      }),
    { x, y, curve },
  );
  await page.mouse.up();
  return result;
}

/** Frame times while the wheel zooms through a stored capture of ten million samples. */
async function zoomFrames(page, url, wav) {
  const id = crypto.randomUUID();
  const conditions = {
    at: 'load',
    toneHz: 50,
    toneLevelDbfs: 0,
    sourceId: 'source',
    sourceName: 'x',
    sourceVolume: 34,
    load: 'on',
    loadOhm: 4,
    mode: 'stereo',
    amplifierId: 'amp',
    amplifierName: 'x',
  };
  const query = new URLSearchParams({
    stepId: 'proof:front-left',
    fileName: 'long.wav',
    takenAt: new Date().toISOString(),
    conditions: JSON.stringify(conditions),
  });
  const stored = await fetch(`${url}/api/v1${BUS}/traces/${id}?${query}`, {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: readFileSync(wav),
  });
  if (!stored.ok) throw new Error(await stored.text());
  await page.goto(`${url}${BUS}/traces/${id}`);
  const canvas = page.locator('canvas[data-drawn]');
  await canvas.waitFor({ timeout: 60_000 });
  await page.locator('.apexcharts-svg').waitFor();
  const box = await canvas.boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + 100);
  await page.getByRole('button', { name: 'Show all' }).click();
  const frames = page.evaluate(
    () =>
      new Promise((resolve) => {
        const gaps = [];
        let last = performance.now();
        const end = last + 3000;
        const tick = (now) => {
          gaps.push(now - last);
          last = now;
          if (now < end) requestAnimationFrame(tick);
          else resolve(gaps.slice(1));
        };
        requestAnimationFrame(tick);
      }),
  );
  for (let i = 0; i < 60; i += 1) {
    await page.mouse.wheel(0, i < 30 ? -120 : 120);
    await page.waitForTimeout(40);
  }
  return frames;
}
