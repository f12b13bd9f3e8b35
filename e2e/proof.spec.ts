import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { dropCapture, openStep, typeReading } from './steps.ts';

const RATE_HZ = 48000;

/** A stereo 16-bit WAV of a tone, the right channel later by some degrees; clipped where a share of full scale is given. */
function wav(hz: number, level: number, rightDeg: number, rail = 1): { name: string; mimeType: string; buffer: Buffer } {
  const frames = RATE_HZ / 4;
  const buffer = Buffer.alloc(44 + frames * 4);
  buffer.write('RIFF', 0);
  buffer.writeUInt32LE(buffer.length - 8, 4);
  buffer.write('WAVEfmt ', 8);
  buffer.writeUInt32LE(16, 16);
  buffer.writeUInt16LE(1, 20);
  buffer.writeUInt16LE(2, 22);
  buffer.writeUInt32LE(RATE_HZ, 24);
  buffer.writeUInt32LE(RATE_HZ * 4, 28);
  buffer.writeUInt16LE(4, 32);
  buffer.writeUInt16LE(16, 34);
  buffer.write('data', 36);
  buffer.writeUInt32LE(frames * 4, 40);
  const coded = (angle: number): number => Math.round(32767 * Math.max(-rail, Math.min(rail, level * Math.sin(angle))));
  for (let i = 0; i < frames; i += 1) {
    const angle = (2 * Math.PI * hz * i) / RATE_HZ;
    buffer.writeInt16LE(coded(angle), 44 + 4 * i);
    buffer.writeInt16LE(coded(angle - (rightDeg * Math.PI) / 180), 46 + 4 * i);
  }
  return { name: 'sound card.wav', mimeType: 'audio/wav', buffer };
}

const verdict = (page: Page) => page.getByTestId('verdict');

// First: what the tests behind it drop at the other side of the pair lowers the target of both.
test('a wrong capture and a wrong reading are voided, and stay on the record', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'proof:left');
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();
  // The channel was proved twice: the newest of each comes first in its list.
  const captures = page.getByRole('region', { name: 'Captures' });
  const readings = page.getByRole('region', { name: 'Readings' });
  for (const _ of [1, 2]) await captures.getByRole('button', { name: 'Void the capture left-loaded.csv' }).first().click();
  await expect(verdict(page)).toContainText('No capture yet');
  await expect(captures.getByRole('button', { name: 'Count the capture left-loaded.csv again' })).toHaveCount(2);
  await readings
    .getByRole('button', { name: /^Void the reading/ })
    .first()
    .click();
  await expect(readings).toContainText('void: typed or taken wrongly');
  // They count again: nothing that was voided by mistake is lost.
  await readings.getByRole('button', { name: /^Count the reading/ }).click();
  for (const _ of [1, 2]) await captures.getByRole('button', { name: 'Count the capture left-loaded.csv again' }).first().click();
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();
});

test('a sound-card recording is judged, and its channels are held against each other', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'proof:right');
  await dropCapture(page, wav(1000, 0.5, 40));
  await expect(verdict(page)).toContainText('The output is clean under load');
  await page.getByRole('link', { name: 'Look' }).click();
  await expect(page.getByTestId('trace-verdict')).toHaveText('Clean');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await expect(figures).toContainText('levels are shares of its full scale');
  await expect(figures).toContainText('Right against Left');
  await expect(figures).toContainText('phase −40');
  await expect(figures).toContainText('later by 111');
  await page.getByRole('tab', { name: 'Right' }).click();
  await expect(page.getByRole('img', { name: 'Waveform of Right' })).toHaveAttribute('data-drawn', /./);
});

test('a recording that hit its own rails is laid to the recorder', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'proof:right');
  await dropCapture(page, wav(1000, 1.6, 0));
  await expect(verdict(page)).toContainText('The capture hit the recorder’s own limits');
  await dropCapture(page, wav(1000, 0.8, 0, 0.6));
  await expect(verdict(page)).toContainText('The output clips under load');
});

test('a scope’s rails, where they are entered, tell over range from clipping in a CSV', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'proof:right');
  const rows = Array.from(
    { length: 2000 },
    (_, i) => `${(i * 1e-5).toFixed(5)},${Math.max(-8, Math.min(8, 10 * Math.sin(i * 0.0628))).toFixed(4)}`,
  );
  const file = { name: 'flat.csv', mimeType: 'text/csv', buffer: Buffer.from(`Time,CH1\n${rows.join('\n')}\n`) };
  await dropCapture(page, file);
  await expect(verdict(page)).toContainText('clips under load');
  await page.getByLabel('Recorder full scale').fill('8');
  await dropCapture(page, file);
  await expect(verdict(page)).toContainText('The capture hit the recorder’s own limits');
});

test('a clamp meter gives the impedance, and more than the drivers take is said', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'proof:reading-left');
  await typeReading(page, '9.2');
  const clamp = page.getByRole('textbox', { name: 'Clamp meter, if any' });
  await clamp.fill('1.15');
  await clamp.press('Enter');
  await expect(page.getByText('2.00 × nominal', { exact: false }).or(page.getByText('2 × nominal', { exact: false }))).toBeVisible();
  await expect(page.getByText(/^8\s?Ω$/)).toBeVisible();
  await clamp.press('Escape');
  await typeReading(page, '14');
  await expect(verdict(page)).toContainText('turned up in between');
});

test('on a phone a reading is entered and judged', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await openStep(page, 'Mobile library bus', 'gain:bass');
  const entry = page.getByLabel('Meter reads', { exact: false }).first();
  await entry.tap().catch(() => entry.click());
  await entry.fill('15,8');
  await page.getByRole('button', { name: 'Enter Meter reads' }).click();
  await expect(verdict(page)).toContainText('On target');
});
