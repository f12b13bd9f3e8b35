import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { scopeCapture } from './captures.ts';
import { expect, test } from './runningApp.ts';
import { dropCapture, loadDemo, openStep, typeReading } from './steps.ts';

const TRAILER = 'Camper trailer';
const CAR = 'Driving-school car';

/** Twelve steps of 1.5 dB; the last three are held back by the rails. */
const TABLE: readonly [number, string][] = [
  [20, '0.713'],
  [21, '0.847'],
  [22, '1.007'],
  [23, '1.197'],
  [24, '1.422'],
  [25, '1.690'],
  [26, '2.009'],
  [27, '2.388'],
  [28, '2.838'],
  [29, '3.17'],
  [30, '3.33'],
  [31, '3.41'],
];

async function setVolume(page: Page, volume: number): Promise<void> {
  await page.getByLabel('Volume', { exact: true }).first().fill(String(volume));
}

test('the Flat list is ticked with values, kept, and stands in the conditions', async ({ page }) => {
  await openStep(page, TRAILER, 'flat:stick');
  await expect(page.getByText('11 are left.')).toBeVisible();
  const boxes = page.getByRole('checkbox');
  // By keyboard alone: space ticks, two tabs lead to the next box.
  await boxes.first().focus();
  for (let i = 0; i < 11; i += 1) {
    await page.keyboard.press('Space');
    if (i < 10) {
      await page.keyboard.press('Tab');
      await page.keyboard.press('Tab');
    }
  }
  await expect(page.getByText('All controls neutral.')).toBeVisible();
  await page.getByLabel('Loudness setting').fill('on');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Loudness is at on: all later readings')).toBeVisible();
  await expect(page.getByRole('main').getByText('Out of tolerance')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Loudness setting')).toHaveValue('on');
  await page.goto(page.url().replace('flat:stick', 'ceiling:preamp-front'));
  await expect(page.getByTestId('verdict')).toBeVisible();
  await expect(page.getByText('Stick, loudness on').first()).toBeVisible();
  await page.goto(page.url().replace('ceiling:preamp-front', 'flat:stick'));
  await expect(page.getByTestId('verdict')).toBeVisible();
  await page.getByLabel('Loudness setting').fill('off');
  await page.keyboard.press('Enter');
  await expect(page.getByText('All controls neutral.')).toBeVisible();
});

test('a volume table is typed by keyboard, cases are compared, and the working volume reaches the gain', async ({ page }) => {
  await openStep(page, TRAILER, 'ceiling:preamp-front');
  await expect(page.getByText('26 of 35, is an assumption')).toBeVisible();
  await setVolume(page, 20);
  await page.keyboard.press('Enter');
  let keys = 3;
  for (const [, volt] of TABLE) {
    await page.keyboard.type(volt);
    await page.keyboard.press('Enter');
    keys += volt.length + 1;
  }
  // Eighty keys, at two a second, are well under a minute.
  expect(keys).toBeLessThan(80);
  await expect(page.getByRole('table', { name: 'Volume table' }).getByRole('row')).toHaveCount(13);
  await expect(page.getByText('Clean up to 28; the working volume of 26 is still an assumption.')).toBeVisible();
  await expect(page.getByText('Within about one step, from voltages alone.')).toBeVisible();

  await page.getByRole('button', { name: 'Cases' }).click();
  await page.getByRole('button', { name: 'Add case' }).click();
  await page.getByLabel('Case', { exact: true }).fill('Bass up');
  await page.getByLabel('Bass, loudness or boost up').selectOption('true');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('“Bass up” will probably be used but has no ceiling yet.')).toBeVisible();
  await page.getByText('Bass up', { exact: true }).click();
  // What raises bass is measured with the bass tone.
  await expect(page.getByRole('radio', { name: '40 Hz' })).toBeChecked();
  await setVolume(page, 20);
  await page.keyboard.press('Enter');
  for (const volt of ['1.267', '1.506', '1.790', '2.127', '2.53f', '3.2x']) {
    await page.keyboard.type(volt);
    await page.keyboard.press('Enter');
  }
  await expect(page.getByText('clean to 23')).toBeVisible();
  await expect(page.getByText('clean to 28')).toBeVisible();
  await expect(page.getByText('Lowest ceiling: bass up, preamp front.')).toBeVisible();
  await page.getByRole('button', { name: 'Take 23 as the working volume' }).click();
  await expect(page.getByText('Clean up to 23 of 35; the working volume is 23.')).toBeVisible();

  await page.goto(page.url().replace('ceiling:preamp-front', 'gain:awning-left'));
  await expect(page.getByTestId('verdict')).toBeVisible();
  await expect(page.getByText('volume at 23')).toBeVisible();
  await expect(page.getByText('23 of 35', { exact: true }).first()).toBeVisible();
  // The source's stage of the level path now has its measured ceiling.
  await page.getByRole('button', { name: /^Level path/ }).click();
  await expect(page.getByRole('img', { name: /Source 1\.20\sV, ceiling 2\.84\sV/ })).toBeVisible();
});

test('a table with a gap, a step off the scale and a picture alone are taken for what they are', async ({ page }) => {
  await openStep(page, TRAILER, 'ceiling:preamp-front');
  await page.getByText('Flat', { exact: true }).last().click();
  await setVolume(page, 29);
  await page.keyboard.press('Enter');
  await page.keyboard.type('3.17');
  await page.keyboard.press('Enter');
  await setVolume(page, 36);
  await page.keyboard.press('Enter');
  await page.keyboard.type('2.5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toHaveText('The scale ends at 35.');
  await setVolume(page, 33);
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+A');
  await page.keyboard.type('-2');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Is it on DC volts?');
  await page.keyboard.press('Control+A');
  await page.keyboard.type('x');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Steps are missing: .*\d+ to 33\./)).toBeVisible();
  const row = page.getByRole('row', { name: /^33/ });
  await expect(row).toContainText('clipped');
  await row.getByRole('button', { name: 'Void step 33' }).click();
  await expect(row).toHaveCount(0);
});

test('captures judge a step; one of another tone or over its range counts for nothing', async ({ page }) => {
  await openStep(page, TRAILER, 'ceiling:preamp-front');
  await page.getByText('Flat', { exact: true }).last().click();
  await setVolume(page, 27);
  await dropCapture(page, scopeCapture({ hertz: 1000, peakVolt: 3.3, name: 'clean.csv' }));
  await expect(page.getByRole('row', { name: /27/ })).toContainText('Clean');
  await setVolume(page, 28);
  await dropCapture(page, scopeCapture({ hertz: 1000, peakVolt: 4, railVolt: 3.6, name: 'clipped.csv' }));
  await expect(page.getByRole('row', { name: /28/ })).toContainText('Clipped');
  await expect(page.getByText('Sure: captures on both sides of the ceiling.')).toBeVisible();
  await setVolume(page, 29);
  await dropCapture(page, scopeCapture({ hertz: 400, peakVolt: 3, name: 'other.csv' }));
  await expect(page.getByRole('row', { name: /29/ })).toContainText(/Not counted: 400\sHz in the capture/);
  await setVolume(page, 30);
  await page.getByLabel('Recorder full scale').fill('2');
  await dropCapture(page, scopeCapture({ hertz: 1000, peakVolt: 4, railVolt: 2, name: 'rails.csv' }));
  await expect(page.getByRole('row', { name: /30/ })).toContainText('Not counted: capture over range');
});

test('a processor’s input is ticked by its light and its outputs are matched', async ({ page }) => {
  await openStep(page, CAR, 'input:front');
  await expect(page.getByText('Input set just below clipping')).toBeVisible();
  await page.getByRole('checkbox', { name: 'back until it went out' }).uncheck();
  await expect(page.getByRole('main').getByText('Open', { exact: true })).toBeVisible();
  await page.locator('body').press('b');
  const level = page.getByLabel('Input level', { exact: true });
  await level.fill('1');
  await expect(page.getByText('Clip light on')).toBeVisible();
  await level.fill('0.7');
  await expect(page.getByText('Clip light off')).toBeVisible();
  await page.getByRole('checkbox', { name: 'back until it went out' }).check();
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();

  await page.goto(page.url().replace('input:front', 'output:out-bass'));
  await expect(page.getByTestId('verdict')).toBeVisible();
  await typeReading(page, '3.5');
  await expect(page.getByText(/Turn this output up 1\.2\sdB, then read again/)).toBeVisible();
  const knob = page.getByLabel('Output level', { exact: true });
  const display = page.getByLabel('Meter display');
  for (let turn = 0; turn < 12; turn += 1) {
    const shown = Number(await display.textContent());
    if (shown > 0 && Math.abs(shown / 4 - 1) < 0.01) break;
    const next = Number(await knob.inputValue()) + (20 * Math.log10(4 / shown)) / 24;
    await knob.fill(String(Math.round(Math.max(0, Math.min(1, next)) * 500) / 500));
    await page.waitForTimeout(500);
  }
  await typeReading(page, (await display.textContent()) ?? '');
  await expect(page.getByText(/Matched:/)).toBeVisible();
  await expect(page.getByRole('main').getByText('Done', { exact: true }).first()).toBeVisible();

  await page.getByText('Do two meters agree?').click();
  await page.getByLabel('This meter (1 %)').fill('4.00');
  await page.getByLabel('The other meter').fill('3.87');
  await expect(page.getByText(/no difference that these two meters could tell/)).toBeVisible();
  await page.getByLabel('The other meter').fill('3.70');
  await expect(page.getByText(/apart, and .* is the most their accuracy allows/)).toBeVisible();
});

test('a factory unit’s sweeps are compared over the volumes', async ({ page }) => {
  await openStep(page, CAR, 'factory:source');
  await expect(page.getByText(/bass is reduced from volume 22 up/)).toBeVisible();
  await page.locator('body').press('b');
  await page.getByLabel('Volume', { exact: true }).fill('18');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Record at volume 18' }).click()]);
  await dropCapture(page, { name: 'sweep-18.wav', mimeType: 'audio/wav', buffer: await readFile(await download.path()) });
  await expect(page.getByText(/bass is reduced from volume 18 up/)).toBeVisible();
  await expect(page.getByRole('img', { name: 'Response of Front left at volume 10, volume 18, volume 22' })).toBeVisible();
  // A recording of something else is named, and does no harm.
  await dropCapture(page, scopeCapture({ hertz: 100, peakVolt: 1, name: 'no-sweep.csv' }));
  await expect(page.getByText(/no-sweep\.csv: .*shorter than the sweep/)).toBeVisible();
});

test('the tone set comes as a ZIP: numbered, with its list', async ({ page }) => {
  await loadDemo(page);
  await page.getByRole('link', { name: 'Test tones' }).click();
  await page.getByText('Another tone').click();
  await page.getByLabel('Frequency').fill('63');
  await page.getByLabel('Level', { exact: true }).fill('1');
  await page.getByRole('button', { name: 'Add to the set' }).click();
  await expect(page.getByRole('alert')).toContainText('Level must be at most 0 dBFS');
  await page.getByLabel('Level', { exact: true }).fill('-6');
  await page.getByRole('button', { name: 'Add to the set' }).click();
  await expect(page.getByRole('button', { name: 'Sine 63 Hz', exact: true })).toBeVisible();
  // One key plays the tone at hand, and stops it.
  await page.locator('body').press('Escape');
  await page.getByRole('button', { name: 'Sine 63 Hz', exact: true }).press('t');
  await expect(page.getByText('Playing: Sine 63 Hz, −6 dBFS.')).toBeVisible();
  await page.getByRole('button', { name: 'Sine 63 Hz', exact: true }).press('t');
  await expect(page.getByText('Begins softly, whatever the file’s level.')).toBeVisible();
  const [one] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save Polarity pulse, −3 dBFS' }).click(),
  ]);
  expect(one.suggestedFilename()).toBe('20-polarity-pulse-minus-3-dbfs.wav');

  // Twenty minutes of sound.
  const [download] = await Promise.all([
    page.waitForEvent('download', { timeout: 60_000 }),
    page.getByRole('button', { name: 'Whole set, ZIP' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('test-tones-44100-hz-16-bit.zip');
  const files = unzipSync(await readFile(await download.path()));
  const names = Object.keys(files);
  expect(names).toHaveLength(24);
  expect(names[0]).toBe('tracks.txt');
  expect(names[1]).toBe('01-sine-40-hz-0-dbfs.wav');
  expect(names).toContain('23-sine-63-hz-minus-6-dbfs.wav');
  const list = new TextDecoder().decode(files['tracks.txt']);
  for (const name of names.slice(1)) expect(list).toContain(name);
  const wav = new DataView(files['01-sine-40-hz-0-dbfs.wav']!.buffer, files['01-sine-40-hz-0-dbfs.wav']!.byteOffset);
  expect([wav.getUint16(22, true), wav.getUint32(24, true), wav.getUint16(34, true), wav.getUint32(40, true)]).toEqual([
    2,
    44_100,
    16,
    60 * 44_100 * 4,
  ]);
});
