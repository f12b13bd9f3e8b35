// Polarity: every driver once, by touch, by a pulse or by ear.
import {
  encodeWav,
  neighbourPhaseDeg,
  newSituation,
  runOf,
  seededRandom,
  SWEEP_FADE_SECOND,
  togetherDb,
  toneSamples,
  meetingSetting,
  type MeetingStep,
} from '@yield/core';
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
  await expect(page.getByTestId('verdict')).toContainText('moves outward on plus, found by touch');
  await page.reload();
  await expect(page.getByTestId('verdict')).toContainText('moves outward on plus');
  // Or its wires stay, and the chain knows of it.
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'Keep it reversed and enter it in the chain' }).click();
  await expect(page.getByTestId('verdict')).toContainText('as entered in the chain, deliberately reversed, found by touch');
  // Found reversed against that, and left so again: the chain has it the plain way round, as it was.
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'Keep it reversed and enter it in the chain' }).click();
  await expect(page.getByTestId('verdict')).toContainText('moves outward on plus, found by touch');
});

test('what is found while an earlier answer is still on its way is nobody else’s edit', async ({ page }) => {
  await page.route(/\/marks\//, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 700));
    await route.continue();
  });
  await openPolarity(page, 'rl');
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'Keep it reversed and enter it in the chain' }).click();
  await expect(page.getByTestId('verdict')).toContainText('as entered in the chain, deliberately reversed, found by touch');
  await expect(page.getByText(/^Saving /)).toHaveCount(0);
  await expect(page.getByText(/refused/)).toHaveCount(0);
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
  // What is written down by a pulse is held against it, and the recording is kept.
  await page.getByRole('button', { name: 'Pulls in' }).click();
  await expect(page.getByTestId('verdict')).toContainText('its latest pulse recording shows the opposite');
  await page.getByRole('button', { name: 'Pushes out' }).click();
  await expect(page.getByTestId('verdict')).toContainText('found by a pulse');
  await page.reload();
  await expect(page.getByTestId('pulse-verdict')).toContainText('it pushes out first');
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
  for (let question = 0; question < 12 && (await ear.getByText(/^Reversed:/).count()) === 0; question += 1) {
    const [first, second] = (await ear.getByText(/^Play music/).innerText()).split(' then ').map(fullness) as [number, number];
    const answer = first > second ? 'The first is fuller' : first < second ? 'The second is fuller' : 'No difference';
    await ear.getByRole('button', { name: answer }).click();
  }
  await expect(ear).toContainText('Reversed: Front right');
  await ear.getByRole('button', { name: 'Write it down for these drivers' }).click();
  await expect(page.getByTestId('verdict')).toContainText('moves outward on plus, found by ear');
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
  await expect(verdict).toContainText('a tape measure is only a starting point here');
  await page.getByRole('checkbox', { name: /delays entered/ }).check();
  await expect(verdict).toContainText('All drivers arrive together');
  await enter('Front left', '1.1');
  await expect(verdict).toContainText('You entered: Front left 3.50 ms');
});

test('a subwoofer is aligned by three levels: what is read, tried, measured again, and kept', async ({ page }) => {
  test.setTimeout(300_000);
  const tune = await demoTune(page, 'Driving-school car');
  await page.goto(`${tune}/run/meeting:boot-left`);
  await expect(page.getByTestId('verdict')).toBeVisible();
  await page.keyboard.press('a');
  /** What a sound meter shows in a car whose boot bass comes 2.2 ms late: of the part and tone that the step asks for. */
  const shown = async (asked: string): Promise<number> => {
    const { chain, settings, readings, traces, marks } = (await (await page.request.get(`/api/v1${tune}`)).json()) as never as {
      chain: { body: Parameters<typeof newSituation>[0] };
      settings: Parameters<typeof newSituation>[1];
    } & Parameters<typeof newSituation>[2];
    const now = newSituation(chain.body, settings, { readings, traces, marks });
    const step = runOf(now).find(({ id }) => id === 'meeting:boot-left')!.step as unknown as MeetingStep;
    const tone = step.tones.find(({ hertz }) => asked.includes(` ${hertz}`))!;
    const [lower, upper] = [86, 84];
    if (!asked.startsWith('Both')) return asked.startsWith('Boot') ? lower : upper;
    return togetherDb(lower, upper, neighbourPhaseDeg(tone, -0.0022, false, meetingSetting(step, now)));
  };
  const entry = page.getByRole('main').locator('input[data-figure]').first();
  const label = page.getByRole('main').locator('form:has(input[data-figure]) .label').first();
  const take = page.getByRole('button', { name: 'Entered in the processor: apply' });
  const done = page.getByText('They sum at the crossover');
  for (let move = 0; move < 40; move += 1) {
    await expect(entry.or(take).or(done).first()).toBeVisible();
    if (await done.isVisible()) break;
    if (await take.isVisible()) {
      await take.click();
      await expect(take).toBeHidden();
      continue;
    }
    const asked = (await label.innerText()).trim();
    await page.keyboard.press('Escape');
    await page.keyboard.type((await shown(asked)).toFixed(1));
    await page.keyboard.press('Enter');
    await expect(label.filter({ hasText: asked })).toHaveCount(0);
  }
  await expect(done).toBeVisible();
  // A filter changed afterwards: what was measured is of another crossover.
  const { chain } = (await (await page.request.get(`/api/v1${tune}`)).json()) as {
    chain: { version: number; body: { channels: { id: string; filters?: { kind: string; order: number }[] }[] } };
  };
  const channels = chain.body.channels.map((channel) =>
    channel.id === 'boot'
      ? {
          ...channel,
          filters: channel.filters?.map((filter) => (filter.kind === 'lowpass' ? { ...filter, order: 2, family: 'butterworth' } : filter)),
        }
      : channel,
  );
  const response = await page.request.put(`/api/v1${tune}/chain`, { data: { version: chain.version, chain: { ...chain.body, channels } } });
  expect(response.ok(), await response.text()).toBe(true);
  await page.reload();
  await expect(page.getByRole('main').getByText('Stale', { exact: true }).first()).toBeVisible();
});

/** Two channels of one recording: the microphone at the listener's head, and the source's line, which the sweep leaves at once. */
function arrivalWav(metre: number): Buffer {
  const played = toneSamples({
    shape: { kind: 'sweep', fromHertz: 20, toHertz: 20_000 },
    levelDbfs: -6,
    seconds: 10,
    sampleRateHz: RATE,
    fadeSecond: SWEEP_FADE_SECOND,
  });
  const shifted = (second: number): Float64Array => {
    const samples = new Float64Array(played.length + RATE / 2);
    samples.set(played, Math.round((0.1 + second) * RATE));
    return samples;
  };
  return Buffer.from(encodeWav([shifted(metre / 343.2), shifted(0)], { sampleRateHz: RATE, bits: 16 }));
}

test('delays by sweep agree with the tape, a recording without the line is refused in words, and the picture from above moves', async ({
  page,
}) => {
  test.setTimeout(300_000);
  await page.goto(`${await demoTune(page, 'Driving-school car')}/run/delay:all`);
  const verdict = page.getByTestId('verdict');
  await expect(verdict).toBeVisible();
  for (const [channel, metre] of [
    ['Front left', '0.9'],
    ['Front right', '1.3'],
    ['Boot bass', '2.1'],
  ] as const) {
    await page.getByLabel(channel, { exact: true }).fill(metre);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('row', { name: new RegExp(`^${channel}`) })).toContainText(/\d ms/);
  }
  await page.getByText('By recorded sweeps').click();
  const drop = (name: string, buffer: Buffer): Promise<void> =>
    page.getByLabel('Capture file').setInputFiles({ name, mimeType: 'audio/wav', buffer });
  await drop('alone.wav', pulseWav(false));
  await expect(verdict.or(page.getByRole('alert')).first()).toContainText(/channel|sweep/);
  for (const [channel, metre] of [
    ['Front left', 0.9],
    ['Front right', 1.3],
    ['Boot bass', 2.1],
  ] as const) {
    await page.getByLabel('Channel that plays').selectOption({ label: channel });
    await drop(`${channel}.wav`, arrivalWav(metre));
    await expect(page.getByLabel('Channel that plays').locator('option', { hasText: `${channel}, recorded` })).toHaveCount(1, {
      timeout: 60_000,
    });
  }
  // 1.2 m at 343.2 m a second; by tape as well, or it would be said.
  await expect(page.getByRole('row', { name: /^Front left/ })).toContainText('3.50 ms');
  await expect(verdict).not.toContainText('ms apart');
  const head = page.getByRole('button', { name: /^Listener’s head/ });
  const before = await head.getAttribute('aria-label');
  await head.press('ArrowRight');
  await expect(page.getByRole('button', { name: before ?? '' })).toHaveCount(0);
  await page.getByLabel('Right-hand drive').check();
  await expect(page.getByRole('button', { name: /^Listener’s head, 1\.30/ })).toBeVisible();
});

test('on the desk two channels of a sweep are held against each other; one channel alone is refused', async ({ page }) => {
  await page.goto('/loads/phase');
  const found = page.getByTestId('against');
  const drop = (name: string, buffer: Buffer): Promise<void> =>
    page.getByLabel('Recording of two channels').setInputFiles({ name, mimeType: 'audio/wav', buffer });
  await page.getByText('10 s', { exact: true }).click();
  // The first channel hears what the second one holds, 2 ms later: the second comes earlier.
  await drop('both.wav', arrivalWav(0.6864));
  await expect(found).toContainText('The second channel is only delayed', { timeout: 60_000 });
  await expect(found).toContainText('−2.00 ms');
  await drop('pulse.wav', pulseWav(false));
  await expect(page.getByRole('alert')).toContainText(/one channel|sweep/);
});
