// Polarity: every driver once, by touch, by a pulse or by ear.
import { encodeWav, seededRandom } from '@yield/core';
import { recordedPulse } from '@yield/bench';
import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { demoTune } from './steps.ts';

const RATE = 48_000;

/** A door as a microphone before it records the pulse. */
function pulseWav(isReversed: boolean): Buffer {
  const filters = [{ kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 70 } as const];
  const driver = { isReversed, filters, arrivalSecond: 0.2, widthSecond: 0.005, noiseBelowDb: 34 };
  return Buffer.from(encodeWav([recordedPulse(driver, 0.8, RATE, seededRandom('door'))], { sampleRateHz: RATE, bits: 16 }));
}

async function openPolarity(page: Page, driver: string): Promise<void> {
  await page.goto(`${await demoTune(page, 'Mobile library bus')}/run/polarity:${driver}`);
  await expect(page.getByTestId('verdict')).toBeVisible();
}

test('a driver is found by touch with one key, and one that is reversed stays open until its wires are swapped', async ({ page }) => {
  await openPolarity(page, 'fl');
  await page.keyboard.press('2');
  await expect(page.getByTestId('verdict')).toContainText('reversed, found by touch');
  await expect(
    page
      .getByRole('main')
      .locator('span', { hasText: /^Out of tolerance$/ })
      .first(),
  ).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByTestId('verdict')).toContainText('pushes out on plus, found by touch');
  await page.reload();
  await expect(page.getByTestId('verdict')).toContainText('pushes out on plus');
});

test('a recorded pulse tells a reversed door, an input that inverts is counted in, and what is no recording is refused', async ({
  page,
}) => {
  await openPolarity(page, 'fr');
  await page.getByText('by a pulse', { exact: true }).click();
  const drop = (name: string, buffer: Buffer): Promise<void> =>
    page.getByLabel('Recording, WAV or CSV').setInputFiles({ name, mimeType: '', buffer });
  await drop('door.wav', pulseWav(true));
  await expect(page.getByTestId('pulse-verdict')).toContainText('it pulls in first');
  await page.getByLabel('this microphone or input inverts').check();
  await expect(page.getByTestId('pulse-verdict')).toContainText('it pushes out first');
  await drop('note.csv', Buffer.from('a note\nand no recording\n'));
  await expect(page.getByRole('alert')).toBeVisible();
});

test('by ear a reversed door is narrowed down, written down for all, and answers that cannot be are told', async ({ page }) => {
  await openPolarity(page, 'fl');
  await page.getByText('by ear', { exact: true }).click();
  await page.getByLabel('Row of Reading corner left').selectOption('rear');
  await page.getByLabel('Row of Reading corner right').selectOption('rear');
  const ear = page.getByTestId('ear');
  // Front right is reversed: a setting sounds as full as the sum of the drivers that it plays.
  const signs: Record<string, Record<string, number>> = { front: { left: 1, right: -1 }, rear: { left: 1, right: 1 } };
  const fullness = (words: string): number => {
    const balance = /balance (left|right)/.exec(words)?.[1];
    const fader = /fader (front|rear)/.exec(words)?.[1];
    const heard = Object.entries(signs).flatMap(([row, sides]) =>
      Object.entries(sides).flatMap(([side, sign]) => ((fader ?? row) === row && (balance ?? side) === side ? [sign] : [])),
    );
    return Math.abs(heard.reduce((sum, sign) => sum + sign, 0));
  };
  for (let question = 0; question < 8 && (await ear.getByText('Reversed:').count()) === 0; question += 1) {
    const [first, second] = (await ear.getByText(/^Play music/).innerText()).split(' then ').map(fullness) as [number, number];
    const answer = first > second ? 'The first is fuller' : first < second ? 'The second is fuller' : 'No difference';
    await ear.getByRole('button', { name: answer }).click();
  }
  await expect(ear).toContainText('Reversed: Front right');
  await ear.getByRole('button', { name: 'Write it down for these drivers' }).click();
  await expect(page.getByTestId('verdict')).toContainText('pushes out on plus, found by ear');
  await openPolarity(page, 'fr');
  await expect(page.getByTestId('verdict')).toContainText('is reversed, found by ear');
});

test('delays by tape measure: entered with the tick, stale when a distance changes, a way longer than a vehicle refused', async ({
  page,
}) => {
  await page.goto(`${await demoTune(page, 'Driving-school car')}/run/delay:all`);
  const verdict = page.getByTestId('verdict');
  await expect(verdict).toContainText('No distance yet: Front left, Front right, Boot bass');
  const enter = async (channel: string, metre: string): Promise<void> => {
    await page.getByLabel(channel, { exact: true }).fill(metre);
    await page.keyboard.press('Enter');
  };
  await enter('Front left', '40');
  await expect(page.getByText(/40(\.0)?\sm is longer than a vehicle/)).toBeVisible();
  await enter('Front left', '0,9');
  await enter('Front right', '1.3');
  await enter('Boot bass', '2.1');
  // 1.2 m at 343 m/s, on a sample at 48 kHz.
  await expect(page.getByRole('row', { name: /^Front left/ })).toContainText('3.50 ms');
  await expect(verdict).toContainText('by tape this is a beginning only');
  await page.getByRole('checkbox', { name: /delays entered/ }).check();
  await expect(verdict).toContainText('All arrive together');
  await enter('Front left', '1.1');
  await expect(verdict).toContainText('Entered were: Front left 3.50 ms');
});
