// Gains that do not go the plain way: an amplifier that bragged, one set by its first flattening, a source that was changed afterwards.
import type { Page } from '@playwright/test';
import { scopeCapture } from './captures.ts';
import { expect, test } from './runningApp.ts';
import { dropCapture, seeTo, typeReading } from './steps.ts';

/** 400 W into 2 ohm: 28.3 V. */
const CHAIN = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', outputVolt: 2, controls: ['bass'] },
  amplifiers: [
    {
      id: 'amp',
      name: 'One-channel, 400 W claimed',
      ratings: [{ mode: 'mono', loadOhm: 2, powerWatt: 400 }],
      minimumMonoOhm: 1,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
    },
  ],
  channels: [
    {
      id: 'sub',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'out',
      band: 'bass',
      loadOhm: 2,
      toneHz: 50,
      drivers: [{ id: 'd', name: 'Sub', coils: 1, coilOhm: 2, ratedPowerWatt: 600 }],
      wiring: { network: 'A1' },
    },
  ],
};

async function newTune(page: Page, name: string, rules: object = {}): Promise<string> {
  const id = crypto.randomUUID();
  const settings = {
    rules: {
      bassToneHz: 50,
      otherToneHz: 1000,
      toneLevelDbfs: 0,
      overlapDb: 0,
      headroomDb: 0,
      limitThdPercent: 1,
      toleranceDb: 0.2,
      loadWhileSetting: 'off',
      ...rules,
    },
    meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true },
  };
  const sent = [
    await page.request.post('/api/v1/tunes', { data: { id, name, vehicle: 'Camper trailer' } }),
    await page.request.put(`/api/v1/tunes/${id}`, { data: { version: 1, name, vehicle: 'Camper trailer', settings } }),
    await page.request.put(`/api/v1/tunes/${id}/chain`, { data: { version: 1, chain: CHAIN } }),
  ];
  for (const response of sent) expect(response.ok(), await response.text()).toBe(true);
  return `/tunes/${id}`;
}

async function openAt(page: Page, tune: string, step: string): Promise<void> {
  await page.goto(`${tune}/run/${step}`);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
}

const verdict = (page: Page) => page.getByTestId('verdict');
const status = (page: Page, word: string) => page.getByRole('main').getByText(word, { exact: true }).first();
const capture = (volt: number, railVolt?: number) =>
  scopeCapture({ hertz: 50, peakVolt: volt * Math.SQRT2, ...(railVolt === undefined ? {} : { railVolt: railVolt * Math.SQRT2 }) });

/** A channel's filters looked at, so that tones may play into it. */
async function lookAtFilters(page: Page, tune: string): Promise<void> {
  await openAt(page, tune, 'filters:sub');
  const open = page.getByRole('main').getByRole('checkbox', { checked: false });
  await expect(open.first()).toBeVisible();
  while ((await open.count()) > 0) {
    const left = await open.count();
    await open.first().press('Space');
    await expect(open).toHaveCount(left - 1);
  }
}

test('an amplifier that cannot make its rating ends where it is clean, and it is said that it does not make it', async ({ page }) => {
  const tune = await newTune(page, 'Bragging amplifier');
  await lookAtFilters(page, tune);
  await openAt(page, tune, 'gain:sub');
  await seeTo(page);
  for (const volt of ['25.00', '25.60', '25.65', '25.68']) {
    await typeReading(page, volt);
    await expect(page.getByRole('textbox', { name: /^Meter reads/ }).first()).toHaveValue('');
  }
  await expect(verdict(page)).toContainText('Three readings stay at');
  await openAt(page, tune, 'proof:sub');
  await seeTo(page);
  await typeReading(page, '25.2');
  // Driven to 28 V against rails of 24.
  await dropCapture(page, capture(28, 24));
  await expect(verdict(page)).toContainText('clips under load');
  await openAt(page, tune, 'gain:sub');
  await expect(page.getByRole('main')).toContainText('less than its rated 400');
  await expect(verdict(page)).toContainText(/too high/);
  await typeReading(page, '24.10');
  await expect(verdict(page)).toContainText('On target');
  await openAt(page, tune, 'proof:sub');
  await typeReading(page, '23.9');
  await dropCapture(page, capture(23.9));
  await expect(verdict(page)).toContainText('The output is clean under load');
  await seeTo(page);
  await expect(status(page, 'Done')).toBeVisible();
});

test('a gain by scope goes up to the first flattening and back, and says what the meter would have said', async ({ page }) => {
  const tune = await newTune(page, 'By scope', { gainBy: 'scope' });
  await lookAtFilters(page, tune);
  await openAt(page, tune, 'gain:sub');
  await seeTo(page);
  const file = (volt: number, railVolt?: number, name = 'scope.csv') => ({ ...capture(volt, railVolt), name });
  await dropCapture(page, file(18, undefined, 'first.csv'));
  await expect(page.getByRole('main')).toContainText('not at the ceiling yet');
  await dropCapture(page, file(22, undefined, 'second.csv'));
  await expect(page.getByRole('main')).toContainText(/Clean at 22\.0/);
  await dropCapture(page, file(25, 24, 'third.csv'));
  await expect(page.getByRole('main')).toContainText('relative to the clipping onset');
  await typeReading(page, '24.0');
  await expect(verdict(page)).toContainText('On target');
});

test('bass raised on the source afterwards makes gains and proofs stale, and back at neutral they are to be read again', async ({
  page,
}) => {
  const tune = await newTune(page, 'Bass raised');
  await openAt(page, tune, 'flat:stick');
  await expect(page.getByText(/(is|are) left\./)).toBeVisible();
  await seeTo(page);
  await expect(page.getByText('All controls neutral.')).toBeVisible();
  await lookAtFilters(page, tune);
  await openAt(page, tune, 'gain:sub');
  await seeTo(page);
  await typeReading(page, '28.3');
  await expect(verdict(page)).toContainText('On target');
  await openAt(page, tune, 'flat:stick');
  await page.getByLabel('Bass setting').fill('+4');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Bass is at +4: all later readings')).toBeVisible();
  await openAt(page, tune, 'gain:sub');
  await expect(status(page, 'Stale')).toBeVisible();
  await expect(verdict(page)).toContainText(/Bass/i);
  await typeReading(page, '28.3');
  await openAt(page, tune, 'flat:stick');
  await expect(page.getByRole('main')).toContainText(/Bass/);
  await expect(status(page, 'Done')).toBeHidden();
});
