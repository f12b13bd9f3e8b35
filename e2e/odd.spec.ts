// Something odd that is stored already, a view that breaks, a page that the browser trusts less: each stays alone.
import type { TuneDetail } from '@yield/contract';
import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { demoTune, openStep, typeReading } from './steps.ts';

/** The tune as the server has it, with something odd in it that its door would refuse. */
async function withOdd(page: Page, change: (tune: TuneDetail) => void): Promise<void> {
  await page.route(/\/api\/v1\/tunes\/[0-9a-f-]{36}$/, async (route) => {
    const response = await route.fetch();
    const tune = (await response.json()) as TuneDetail;
    change(tune);
    await route.fulfill({ response, json: tune });
  });
}

test('an odd record is told at its step and can be voided; rail, list and other steps go on', async ({ page }) => {
  const tune = await demoTune(page, 'Mobile library bus');
  let stepId = '';
  await withOdd(page, ({ readings }) => {
    const reading = readings.find(({ conditions }) => conditions.at === 'ohm' && conditions.network !== undefined)!;
    stepId = reading.stepId;
    (reading.conditions as { network: string }).network = 'A1 and B1';
  });
  await page.goto(`${tune}/findings`);
  const finding = page.getByText('A reading here cannot be judged and is ignored');
  await expect(finding).toBeVisible();
  await page.goto(`${tune}/run/${stepId}`);
  await expect(finding.first()).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Views and steps' })).toContainText('Gains');
  await expect(page.getByRole('button', { name: 'Void this reading', exact: true })).toBeVisible();
  await page.goto(`${tune}/run/gain:bass`);
  await expect(page.getByTestId('verdict')).toBeVisible();
});

test('a step whose view breaks says what it was showing, offers its records and a report; the rest of the screen stays', async ({
  page,
}) => {
  const tune = await demoTune(page, 'Mobile library bus');
  await withOdd(page, ({ chain }) => {
    for (const channel of chain.body.channels) Object.assign(channel, { drivers: 'none' });
  });
  await page.goto(`${tune}/run`);
  await expect(page.getByRole('alert').first()).toContainText('cannot be shown');
  await expect(page.getByRole('navigation', { name: 'Views and steps' })).toBeVisible();
  await page.getByRole('button', { name: 'Show the raw records' }).click();
  await expect(page.getByRole('button', { name: 'Hide the raw records' })).toBeVisible();
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save a report' }).click();
  expect((await saved).suggestedFilename()).toMatch(/^yield-report-.*\.json$/);
});

test('a list of readings that breaks leaves its step alone', async ({ page }) => {
  await withOdd(page, ({ readings }) => {
    for (const reading of readings)
      if (reading.stepId === 'gain:bass') Object.assign(reading, { takenAt: 'x', value: null, conditions: null });
  });
  await page.goto(`${await demoTune(page, 'Mobile library bus')}/run/gain:bass`);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Views and steps' })).toBeVisible();
  await page.goto('/');
  await expect(page.getByRole('link', { name: 'Mobile library bus', exact: true })).toBeVisible();
});

test('a page that is not encrypted takes readings all the same, and says what the browser keeps from it', async ({ page }) => {
  await page.addInitScript(() => {
    // As a browser has it for a page of another machine without encryption.
    Object.defineProperty(window, 'isSecureContext', { value: false });
    Object.defineProperty(Crypto.prototype, 'randomUUID', { value: undefined });
    Object.defineProperty(Navigator.prototype, 'locks', { value: undefined });
    Object.defineProperty(Navigator.prototype, 'serviceWorker', { value: undefined });
    Object.defineProperty(Navigator.prototype, 'mediaDevices', { value: undefined });
  });
  await openStep(page, 'Mobile library bus', 'gain:bass');
  await expect(page.getByRole('note')).toContainText('not encrypted');
  await typeReading(page, '21.4');
  await expect(page.getByRole('region', { name: 'Readings' })).toContainText('21.4');
  await expect(page.getByText(/^Saving |kept in this browser until/)).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('region', { name: 'Readings' })).toContainText('21.4');
});
