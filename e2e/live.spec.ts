// The audio input is Chromium's own fake device, fed from a WAV of the simulated bench.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { heardSweep, sourceWaveform, type SourcePhysics } from '@yield/bench';
import { encodeWav, LONG_SWEEP, type Channel } from '@yield/core';
import { expect, test } from './runningApp.ts';
import { loadDemo } from './steps.ts';

const CEILING = '/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0003/run/ceiling:preamp-front';
const BASS = '/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001/run/response:bass';
const RATE_HZ = 48_000;
const FAKE = ['--use-fake-device-for-media-stream'];
const ALLOWED = ['--use-fake-ui-for-media-stream'];
const BROWSER = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--no-first-run',
  '--autoplay-policy=no-user-gesture-required',
];

/** A source whose rails lie at 3 V peak, recorded by an input whose full scale is 5 V. */
const SOURCE: SourcePhysics = { voltAtStep: [0, 1.5, 2.8], railVolt: 3, limiting: 'hard' };
const FULL_SCALE_VOLT = 5;

function recording(volume: number): Uint8Array {
  const waveform = sourceWaveform(SOURCE, { volume, toneHz: 1000, toneLevelDbfs: 0, liftDb: 0 });
  const samples = Float64Array.from({ length: 5 * RATE_HZ }, (_, n) => waveform(n / RATE_HZ) / FULL_SCALE_VOLT);
  return encodeWav([samples], { sampleRateHz: RATE_HZ, bits: 16 });
}

/** A browser with the given audio input; the page stands at a ceiling step, the live input open. */
const withInput = (
  url: string,
  args: string[],
  work: (page: Page) => Promise<void>,
  before?: (page: Page) => Promise<void>,
): Promise<void> =>
  withBrowser(
    url,
    args,
    async (page) => {
      await page.goto(CEILING);
      await page.getByRole('button', { name: 'Live input' }).click();
      await work(page);
    },
    before,
  );

async function withBrowser(
  url: string,
  args: string[],
  work: (page: Page) => Promise<void>,
  before?: (page: Page) => Promise<void>,
): Promise<void> {
  // The one without windows asks for no permission, so it cannot be refused one.
  const executablePath = process.env.CHROMIUM_WITH_WINDOWS ?? '/usr/bin/chromium';
  const browser = await chromium.launch({ executablePath, args: [...BROWSER, ...args] });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: url });
    page.setDefaultTimeout(20_000);
    await before?.(page);
    await loadDemo(page);
    await work(page);
  } finally {
    await browser.close();
  }
}

const withRecording = (
  url: string,
  volume: number,
  work: (page: Page) => Promise<void>,
  before?: (page: Page) => Promise<void>,
): Promise<void> => withFile(recording(volume), (args) => withInput(url, args, work, before));

/** An input that plays a WAV round and round, from when it is opened. */
async function withFile(wav: Uint8Array, work: (args: string[]) => Promise<void>): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'yield-live-'));
  const file = path.join(folder, 'input.wav');
  writeFileSync(file, wav);
  try {
    await work([...FAKE, ...ALLOWED, `--use-file-for-fake-audio-capture=${file}`]);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const listen = (page: Page): Promise<void> => page.getByRole('button', { name: 'Start listening' }).click();
const verdict = (page: Page) => page.getByTestId('live-verdict');

test('a clean input is called clean, calibrated in volts, held and kept at its step', async ({ app }) => {
  await withRecording(app.url, 1, async (page) => {
    await listen(page);
    await expect(verdict(page)).toHaveAttribute('data-verdict', 'clean');
    await expect(verdict(page)).toContainText(/Tone1\skHz/);
    await page.getByLabel('Calibrate: the meter reads').fill('1.5');
    await page.getByRole('button', { name: 'Calibrate', exact: true }).click();
    // 1.5 V RMS at 0.424 of full scale: 5 V peak.
    await expect(page.getByText(/Full scale is (5|4\.9\d|5\.0\d)\sV peak/)).toBeVisible();
    await expect(verdict(page)).toContainText(/Level1\.(50|49|51)\sV/);
    await page.getByLabel('Volume', { exact: true }).fill('21');
    await page.getByRole('button', { name: 'Hold' }).click();
    await page.getByRole('button', { name: 'Keep as a capture' }).click();
    const row = page.getByRole('row', { name: /21/ });
    await expect(row).toContainText('Clean');
    await expect(row).toContainText(/1\.(50|49|51)\sV/);
    await row.getByRole('link', { name: /Clean/ }).click();
    await expect(page.getByTestId('trace-verdict')).toBeVisible();
  });
});

test('a clipped input is called clipped while it runs', async ({ app }) => {
  await withRecording(app.url, 2, async (page) => {
    await listen(page);
    await expect(verdict(page)).toHaveAttribute('data-verdict', 'clipped');
  });
});

test('without permission it says what to do', async ({ app }) => {
  await withInput(app.url, FAKE, async (page) => {
    await listen(page);
    await expect(page.getByRole('alert')).toContainText('The browser may not use the audio input.');
    await expect(page.getByRole('alert')).toContainText('Allow the microphone for this page');
  });
});

test('without an input it says what to do', async ({ app }) => {
  await withInput(app.url, [], async (page) => {
    await listen(page);
    await expect(page.getByRole('alert')).toContainText('No audio input is connected.');
    await expect(page.getByRole('button', { name: 'Start listening' })).toBeEnabled();
  });
});

/** Keeps hold of what the page opens, so that the test can pull the plug. */
async function keepHandles(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const media = navigator.mediaDevices;
    const open = media.getUserMedia.bind(media);
    media.getUserMedia = async (wanted) => {
      const stream = await open(wanted);
      Object.assign(window, { heldStream: stream });
      return stream;
    };
    const Node = window.AudioWorkletNode;
    window.AudioWorkletNode = class extends Node {
      constructor(...given: ConstructorParameters<typeof Node>) {
        super(...given);
        Object.assign(window, { heldNode: this });
      }
    };
  });
}

test('a device that vanishes is told, and can be started again', async ({ app }) => {
  await withRecording(
    app.url,
    1,
    async (page) => {
      await listen(page);
      await expect(verdict(page)).toHaveAttribute('data-verdict', 'clean');
      await page.evaluate(() => {
        const { heldStream } = window as unknown as { heldStream: MediaStream };
        heldStream.getAudioTracks()[0]!.dispatchEvent(new Event('ended'));
      });
      await expect(page.getByRole('alert')).toContainText('The audio input has gone.');
      await listen(page);
      await expect(verdict(page)).toHaveAttribute('data-verdict', 'clean');
    },
    keepHandles,
  );
});

test('a sample rate that changes is told', async ({ app }) => {
  await withRecording(
    app.url,
    1,
    async (page) => {
      await listen(page);
      await expect(verdict(page)).toHaveAttribute('data-verdict', 'clean');
      await page.evaluate(() => {
        const { heldNode } = window as unknown as { heldNode: AudioWorkletNode };
        heldNode.port.onmessage?.(new MessageEvent('message', { data: { samples: new Float32Array(8), sampleRateHz: 22_050 } }));
      });
      await expect(page.getByRole('alert')).toContainText('sample rate changed');
      await expect(page.getByRole('alert')).toContainText('recalibrate');
    },
    keepHandles,
  );
});

test('at a gain the live level leads to its target, in figures and by ear', async ({ app }) => {
  await withRecording(app.url, 1, async (page) => {
    await page.goto('/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001/run/gain:front-left');
    await page.getByRole('button', { name: 'Live input' }).click();
    await listen(page);
    await expect(page.getByTestId('live-aim')).toContainText('calibrate the input');
    await page.getByLabel('Calibrate: the meter reads').fill('1.5');
    await page.getByRole('button', { name: 'Calibrate', exact: true }).click();
    await expect(page.getByTestId('live-aim')).toContainText(/^Up \d+/);
    await page.getByLabel('Guide by sound').check();
    await expect(page.getByText('Clicks come faster as you near it', { exact: false })).toBeVisible();
  });
});

test('a sweep is recorded live: level first, progress, and a curve; cancelled, nothing is kept', async ({ app }) => {
  const bass = { id: 'bass', name: 'Bass', band: 'bass', drivers: [] } as unknown as Channel;
  const heard = heardSweep(LONG_SWEEP, RATE_HZ, bass, 'live', 'left ear');
  // Time for a hand between opening the input and the record button.
  const lead = new Float64Array(3 * RATE_HZ);
  const samples = Float64Array.from([...lead, ...heard.map((value) => 1.5 * value), ...lead]);
  await withFile(encodeWav([samples], { sampleRateHz: RATE_HZ, bits: 16 }), (args) =>
    withBrowser(app.url, args, async (page) => {
      await page.goto(BASS);
      await page.getByRole('button', { name: 'Live', exact: true }).click();
      const panel = page.getByTestId('live-sweep');
      await panel.getByRole('button', { name: 'Record 13 s' }).click();
      await expect(panel.getByRole('progressbar')).toBeVisible();
      await expect(page.getByRole('list', { name: 'Recorded places' })).toContainText('left ear');
      await expect(page.getByTestId('verdict')).toContainText('dB off target');
      await panel.getByRole('button', { name: 'Record 13 s' }).click();
      await panel.getByRole('button', { name: 'Cancel' }).click();
      await expect(panel.getByRole('progressbar')).toBeHidden();
      await expect(page.getByText('live-sweep.wav')).toHaveCount(1);
    }),
  );
});
