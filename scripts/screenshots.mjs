// npm run screenshots: the pictures in docs/screenshots, from the demo data as it is after a first start.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { build, ROOT } from './lib/project.mjs';
import { startThrowawayServer } from './lib/throwawayServer.mjs';

const tune = (n) => `/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a000${n}`;
const WIDE = { width: 1280, height: 800 };

const PICTURES = [
  { name: 'tunes', path: '/' },
  { name: 'chain', path: `${tune(1)}/chain` },
  { name: 'planner', path: '/loads/wiring', before: fourDual },
  { name: 'ceiling', path: `${tune(1)}/run/ceiling:preamp-sub` },
  { name: 'factory', path: `${tune(2)}/run/factory:source`, theme: 'garage', size: { width: 1280, height: 1000 } },
  { name: 'crossovers', path: `${tune(4)}/crossovers`, before: propose },
  { name: 'gain', path: `${tune(1)}/run/gain:reading-right` },
  { name: 'proof', path: `${tune(2)}/run/proof:boot` },
  { name: 'trace', path: `${tune(2)}/run/proof:boot`, before: look },
  { name: 'delays', path: `${tune(2)}/run/delay:all`, theme: 'garage', before: measure, size: { width: 1280, height: 1100 } },
  { name: 'neighbours', path: `${tune(2)}/run/meeting:boot-left`, before: hear, size: { width: 1280, height: 1100 } },
  { name: 'response', path: `${tune(2)}/run/response:boot`, before: even, size: { width: 1280, height: 1100 } },
  { name: 'gear', path: '/gear' },
  { name: 'findings', path: `${tune(3)}/findings` },
  { name: 'house-rules', path: `${tune(2)}/settings`, before: ask },
  { name: 'phone', path: `${tune(1)}/run/gain:reading-right`, size: { width: 390, height: 844 } },
  // Last, since they store a reading.
  { name: 'listening', path: `${tune(2)}/run/listening:all`, before: judge, size: { width: 1280, height: 900 } },
  { name: 'sheet', path: `${tune(1)}/sheet`, before: sign, size: { width: 1280, height: 1000 } },
  { name: 'history', path: `${tune(1)}/history`, before: change },
];

/** What an ear says of three passages. */
async function judge(page) {
  await page.getByRole('button', { name: /^Fine: Bass notes/ }).click();
  await page.getByRole('button', { name: /^Fine: Drum hits/ }).click();
  await page.getByLabel(/^What was heard: A voice/).fill('to the left, above the mirror');
  await page.getByRole('button', { name: /^Not right: A voice/ }).click();
  await page.getByText('Not right: “to the left, above the mirror”.').waitFor();
}

/** Signed, and something changed afterwards. */
async function sign(page) {
  await page.getByLabel('Name', { exact: true }).fill('M. Lantern');
  await page.getByLabel(/What is left open/).fill('the bass and the reading corner, on Monday');
  await page.getByRole('button', { name: 'Sign', exact: true }).click();
  await page.getByText('Issue 1 matches the tune.').waitFor();
  const address = page.url();
  await page.goto(address.replace('/sheet', '/run/gain:bass'));
  await page.getByTestId('verdict').waitFor();
  await page.locator('body').press('r');
  await page.keyboard.type('15.8');
  await page.keyboard.press('Enter');
  await page.getByText('15.8').first().waitFor();
  await page.waitForTimeout(800);
  await page.goto(address);
  await page.getByText(/Issue 1 is superseded/).waitFor();
  await page.getByRole('button', { name: 'What changed after it' }).click();
}

/** Ways to the listener's head, by tape. */
async function measure(page) {
  await page.getByLabel('Boot bass', { exact: true }).waitFor();
  for (const [i, field] of (await page.getByRole('main').locator('table input').all()).entries()) {
    await field.fill(['0.95', '1.35', '1.8'][i % 3]);
    await page.keyboard.press('Enter');
    await page.waitForTimeout(300);
  }
}

/** Three places of the bench's cabin, recorded one after the other. */
async function even(page) {
  await page.getByRole('button', { name: /^Check all/ }).click();
  await page.keyboard.press('b');
  for (let k = 0; k < 3; k += 1) {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: /^Record at/ }).click()]);
    await page
      .getByRole('main')
      .locator('input[type=file]')
      .first()
      .setInputFiles({ name: download.suggestedFilename(), mimeType: 'audio/wav', buffer: readFileSync(await download.path()) });
    await page.getByRole('list', { name: 'Recorded places' }).getByRole('listitem').nth(k).waitFor();
  }
  await page.keyboard.press('b');
  await page.getByText(/^Proposed/).waitFor();
}

/** Nine levels off the practice cabin's sound meter. */
async function hear(page) {
  await page.getByRole('button', { name: /^Check all/ }).waitFor();
  await page.keyboard.press('a');
  for (const level of ['84.1', '83.8', '80.2', '76.5', '81.3', '83.5', '82.1', '80.9', '85.4']) {
    await page.keyboard.press('Escape');
    await page.keyboard.type(level);
    await page.keyboard.press('Enter');
    await page.waitForTimeout(500);
  }
}

/** One question opened, another answer chosen. */
async function ask(page) {
  await page.getByRole('button', { name: /Gain overlap for quiet/ }).click();
  await page.getByRole('radio', { name: /^5 dB/ }).check();
  await page.getByRole('button', { name: 'Use this' }).waitFor();
}

/** A wiring changed, and looked at in the record. */
async function change(page) {
  const record = page.url();
  await page.goto(record.replace('/history', '/wiring/bass'));
  await page.getByRole('radio', { name: /^8 ohm/ }).check({ force: true });
  await page.getByRole('button', { name: 'Use this wiring' }).click();
  await page.getByText('In the chain', { exact: true }).waitFor();
  await page.goto(record);
  await page.getByRole('button', { name: 'What changed' }).first().click();
  await page.getByRole('columnheader', { name: 'Before' }).waitFor();
}

/** The proposal taken, one way chosen. */
async function propose(page) {
  await page.getByRole('button', { name: 'Propose' }).click();
  await page.getByRole('button', { name: 'Use the proposal' }).click();
  await page.getByRole('button', { name: 'Middle left' }).click();
}

async function fourDual(page) {
  await page.getByRole('radio', { name: /^4 ohm, coils in series/ }).check({ force: true });
}

async function look(page) {
  await page.getByRole('link', { name: 'Look' }).first().click();
  await page.locator('canvas[data-drawn]').waitFor();
  await page.locator('.apexcharts-svg').waitFor();
}

await build();
const server = await startThrowawayServer();
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});
try {
  for (const { name, path: address, theme = 'daylight', size = WIDE, before } of PICTURES) {
    const page = await browser.newPage({ viewport: size, serviceWorkers: 'block' });
    await page.addInitScript((chosen) => localStorage.setItem('yield.theme', chosen), theme);
    await page.goto(`${server.url}${address}`);
    await page.getByRole('heading', { level: 1 }).waitFor();
    await before?.(page);
    await page.waitForTimeout(600);
    await page.screenshot({ path: path.join(ROOT, `docs/screenshots/${name}.png`) });
    await page.close();
  }
} finally {
  await browser.close();
  await server.remove();
}
