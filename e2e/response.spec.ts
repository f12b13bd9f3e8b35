// The response of one channel on the bench's cabin: three places, an equaliser, measured again, kept; and what is no sweep.
import { heardSweep } from '@yield/bench';
import { encodeWav, LONG_SWEEP, type Chain, type Channel, type EqualiserFilter } from '@yield/core';
import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { demoTune } from './steps.ts';

const RATE_HZ = 48_000;
const SEED = 'cabin';
const PLACES = ['left ear', 'middle of the head', 'right ear'];

const chainOf = async (page: Page, tune: string): Promise<Chain> =>
  ((await (await page.request.get(`/api/v1${tune}`)).json()) as { chain: { body: Chain } }).chain.body;
const channelOf = async (page: Page, tune: string, name: string): Promise<Channel> =>
  (await chainOf(page, tune)).channels.find(({ id }) => id === name)!;
const wavOf = (channel: Channel, places: readonly string[]): Buffer =>
  Buffer.from(
    encodeWav(
      places.map((place) => heardSweep(LONG_SWEEP, RATE_HZ, channel, SEED, place)),
      { sampleRateHz: RATE_HZ, bits: 24 },
    ),
  );
const drop = (page: Page, name: string, buffer: Buffer): Promise<void> =>
  page.getByRole('main').locator('input[type=file]').first().setInputFiles({ name, mimeType: 'audio/wav', buffer });
const recorded = (page: Page) => page.getByRole('list', { name: 'Recorded places' }).getByRole('listitem');
const verdict = (page: Page) => page.getByTestId('verdict');

test('three places, a hump named, bands proposed and taken, measured again, and kept', async ({ page }) => {
  const tune = await demoTune(page, 'Driving-school car');
  await page.goto(`${tune}/run/response:boot`);
  await page.getByRole('button', { name: /Check all/ }).click();
  const channel = await channelOf(page, tune, 'boot');
  for (const place of PLACES) {
    await expect(page.getByLabel('Microphone position')).toHaveValue(place);
    await drop(page, `${place}.wav`, wavOf(channel, [place]));
    await expect(recorded(page).filter({ hasText: place })).toContainText(/noise \d+ dB or more below/);
  }
  await expect(verdict(page)).toContainText('dB off target between');
  await expect(verdict(page)).toContainText(/A peak of .* at all positions: the cabin/);
  // Free bands as they come, then graphic, then free again: another proposal each. The choice is the one that was stored.
  const proposal = page.getByTestId('proposal');
  await expect(proposal).toContainText('dB after');
  const free = (await proposal.textContent()) ?? '';
  await page.getByText('Graphic, octaves', { exact: true }).click();
  await expect(proposal).not.toContainText(/Working out/);
  await expect(proposal).not.toHaveText(free);
  await page.reload();
  await expect(page.getByLabel('Graphic, octaves')).toBeChecked();
  await page.getByText('Five free bands', { exact: true }).click();
  await expect(proposal).toHaveText(free);
  // One band is turned by hand, and another switched off and on again.
  const gain = page.getByLabel('Gain of band 1');
  const proposed = Number(await gain.inputValue());
  await page.getByRole('slider', { name: 'Band 1, frequency and gain' }).press('ArrowDown');
  await expect(gain).toHaveValue(`${Number((proposed - 0.5).toFixed(1))}`);
  await gain.fill('-4.5');
  await page.getByLabel('Band 2', { exact: true }).uncheck();
  await page.getByLabel('Band 2', { exact: true }).check();
  await page.getByRole('button', { name: 'Use these bands' }).click();
  await expect(page.getByTestId('proposal')).toContainText('are set');
  await expect(verdict(page)).toContainText('filters or equaliser were changed since');

  // All three microphones at once, through the bands as they stand.
  const isTurned = ({ gainDb }: EqualiserFilter): boolean => gainDb === -4.5;
  await expect.poll(async () => (await channelOf(page, tune, 'boot')).equaliser?.some(isTurned)).toBe(true);
  const { equaliser = [] } = await channelOf(page, tune, 'boot');
  await page.getByLabel('Microphone position').fill(PLACES.join(', '));
  await drop(page, 'all.wav', wavOf({ ...channel, equaliser }, PLACES));
  await expect(verdict(page)).toContainText('dB before');
  await page.getByLabel('EQ entered in the processor').check();
  await page.getByLabel('Keep this result').check();
  await page.getByRole('button', { name: /Check all/ }).click();
  await expect(
    page
      .getByRole('main')
      .locator('span', { hasText: /^Done$/ })
      .first(),
  ).toBeVisible();
  // What the bands do to the tone and to headroom, the gain knows.
  await page.goto(`${tune}/run/gain:boot`);
  await expect(verdict(page)).toContainText(/filters were|no longer counts/);
});

test('a recording without the sweep counts for nothing, and says so; bands taken back bring the first measurement back', async ({
  page,
}) => {
  const tune = await demoTune(page, 'Mobile library bus');
  await page.goto(`${tune}/run/response:bass`);
  await drop(page, 'silence.wav', Buffer.from(encodeWav([new Float64Array(5 * RATE_HZ)], { sampleRateHz: RATE_HZ, bits: 24 })));
  await expect(page.getByText('Cannot be judged')).toBeVisible();
  await expect(recorded(page)).toHaveCount(0);
  const channel = await channelOf(page, tune, 'bass');
  await drop(page, 'left.wav', wavOf(channel, [PLACES[0]!]));
  await expect(verdict(page)).toContainText('Only one position');
  await page.getByRole('button', { name: 'Use these bands' }).click();
  await expect(verdict(page)).toContainText('filters or equaliser were changed since');
  await page.getByRole('button', { name: 'Take them back' }).click();
  await expect(verdict(page)).toContainText('Only one position');
  // Another program's table, with comments and decimal commas, for a second place; one that runs backwards is refused by its line.
  await page.getByLabel('Microphone position').fill('right ear');
  const table = [
    '* measured elsewhere',
    'Hz;dB',
    ...[20, 31.5, 50, 80, 125, 200].map((hertz, k) => `${String(hertz).replace('.', ',')};${70 + k},5`),
  ];
  await page
    .getByRole('main')
    .locator('input[type=file]')
    .first()
    .setInputFiles({ name: 'right.txt', mimeType: 'text/plain', buffer: Buffer.from(table.join('\n')) });
  await expect(recorded(page)).toHaveText([/left ear/, /right ear/]);
  await expect(page.getByText('Curve read')).toBeVisible();
  await page
    .getByRole('main')
    .locator('input[type=file]')
    .first()
    .setInputFiles({ name: 'backwards.txt', mimeType: 'text/plain', buffer: Buffer.from('80 70\n40 72\n20 74\n') });
  await expect(page.getByRole('alert')).toContainText('frequencies must rise');
});

test('eight microphones in one file are eight places', async ({ page }) => {
  const tune = await demoTune(page, 'Puppet theatre van');
  const channel = await channelOf(page, tune, 'door-left');
  const places = Array.from({ length: 8 }, (_, k) => `place ${k + 1}`);
  await page.goto(`${tune}/run/response:door-left`);
  await page.getByLabel('Microphone position').fill(places.join(', '));
  // Two of them are made, and stand for four each: what is tested is how many there are.
  const [one, other] = places.slice(0, 2).map((place) => heardSweep(LONG_SWEEP, RATE_HZ, channel, SEED, place));
  const heard = places.map((_, k) => (k % 2 === 0 ? one! : other!));
  await drop(page, 'eight.wav', Buffer.from(encodeWav(heard, { sampleRateHz: RATE_HZ, bits: 16 })));
  await expect(recorded(page)).toHaveCount(8);
  // Places are marked from above: one is moved by a key, and stays where it was put.
  const eighth = page.getByRole('button', { name: /^8: place 8/ });
  const before = await eighth.getAttribute('aria-label');
  await eighth.press('ArrowDown');
  await expect(eighth).not.toHaveAttribute('aria-label', before!);
  await expect.poll(async () => Object.keys((await chainOf(page, tune)).listening?.plan?.microphones ?? {})).toEqual(['place 8']);
  await expect(page.getByLabel(/Response at each position/)).toBeVisible();
});

test('the ear has the last word: not right, changed for it, heard again, compared blind, and all of it on the record', async ({ page }) => {
  const tune = await demoTune(page, 'Driving-school car');
  await page.goto(`${tune}/run/listening:all`);
  const main = page.getByRole('main');
  await main
    .getByRole('button', { name: /Check all/ })
    .or(main.getByLabel(/volume up from 0/))
    .first()
    .click();
  await main.getByLabel(/What was heard: Bass notes/).fill('one note booms');
  await main.getByRole('button', { name: /Not right: Bass notes/ }).click();
  await expect(verdict(page)).toContainText('Not right: “one note booms”.');
  await main.getByText('Change something by ear').click();
  const form = page.getByRole('form', { name: 'Change by ear' });
  await form.getByLabel('Channel').selectOption({ label: 'Boot bass' });
  await form.getByLabel('By', { exact: true }).fill('1');
  await form.getByLabel('What was heard').fill('one note booms');
  await form.getByRole('button', { name: 'Change it' }).click();
  await expect(form.getByRole('alert')).toContainText('turn the others down instead');
  await form.getByText('A band', { exact: true }).click();
  await form.getByLabel('At', { exact: true }).fill('47');
  await form.getByLabel('By', { exact: true }).fill('-3');
  await form.getByLabel('Q', { exact: true }).fill('4');
  await form.getByRole('button', { name: 'Change it' }).click();
  const log = page.getByRole('region', { name: 'Listening log' });
  await expect(log).toContainText('Boot bass: no band there → 47 Hz');
  await expect(verdict(page)).toContainText('heard before the settings changed');
  for (const name of [/^Fine: Bass/, /^Fine: Drum/, /^Fine: A voice/, /^Fine: Nothing/, /^Fine: A slow/]) {
    await main.getByRole('button', { name }).click();
    await page.waitForTimeout(100);
  }
  await expect(verdict(page)).toContainText('Every passage sounds right with the present settings');
  // A blind comparison by somebody who always hears right.
  await main.getByText('Compare two settings blind').click();
  const blind = page.getByTestId('blind');
  for (let trial = 0; trial < 10; trial += 1) {
    await blind.getByRole('button', { name: /Begin$|Next one/ }).click();
    const called = await blind.getByTestId('called').textContent();
    await blind.getByRole('button', { name: `It was ${called}` }).click();
  }
  await expect(blind.getByRole('status')).toContainText('10 of 10 right: a clear difference');
  await blind.getByRole('button', { name: 'Write it down' }).click();
  await expect(log).toContainText('10 of 10 right');
  // The change spoils what stood on it, and stands in the history.
  await page.goto(`${tune}/run/gain:boot`);
  await expect(verdict(page)).toContainText(/no longer counts|filters were/);
});
