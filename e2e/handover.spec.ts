// From gear to a signed sheet by keyboard alone; what supersedes it; archives out and in; gear as a table; finding anything; the guide.
import { readFile } from 'node:fs/promises';
import type { Chain } from '@yield/core';
import type { Locator, Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { demoTune, loadDemo, openStep, typeReading } from './steps.ts';

/** Types into a field as a hand on the keyboard does. */
async function type(field: Locator, text: string): Promise<void> {
  await field.focus();
  await field.press('ControlOrMeta+a');
  await field.pressSequentially(text);
}
const find = async (page: Page, text: string, wanted: RegExp): Promise<void> => {
  await page.keyboard.press('Control+k');
  const field = page.getByRole('combobox', { name: 'Find anything' });
  await expect(field).toBeFocused();
  await page.keyboard.type(text);
  await expect(page.getByRole('option', { selected: true })).toContainText(wanted);
  await page.keyboard.press('Enter');
  await expect(field).toBeHidden();
};

test('by keyboard alone: a tune from gear, its sheet signed, superseded by a filter, and signed again', async ({ page }) => {
  await loadDemo(page);
  await page.getByRole('button', { name: 'New tune' }).press('Enter');
  await type(page.getByLabel('Name of the job'), 'Second library bus');
  await page.getByText('Pick its gear').press('Enter');
  await type(page.getByLabel('How many of Four-channel, 4 × 60 W'), '1');
  await type(page.getByLabel('How many of Mono, 250 W at 2 Ω'), '1');
  await type(page.getByLabel('How many of Door 165 mm'), '2');
  await type(page.getByLabel(/How many of Subwoofer 250 mm, dual/), '1');
  await page.getByLabel('Source', { exact: true }).focus();
  await page.keyboard.type('Dash unit, 4 V');
  await page.getByRole('button', { name: 'Start' }).press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Chain' })).toBeVisible();
  await expect(page.getByText('Door 165 mm left').first()).toBeVisible();
  const tune = new URL(page.url()).pathname.replace(/\/chain$/, '');

  await find(page, 'owner sheet', /Owner’s sheet/);
  await expect(page.getByText('Not signed yet.')).toBeVisible();
  await type(page.getByLabel('Name', { exact: true }), 'A. Tuner');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Something is still open');
  await type(page.getByLabel(/What is left open/), 'everything: the gear comes on Monday');
  await page.getByRole('button', { name: 'Sign', exact: true }).press('Enter');
  await expect(page.getByText('Issue 1 matches the tune.')).toBeVisible();

  // A filter is changed on another device: the sheet of this one is superseded at once.
  const { chain } = (await (await page.request.get(`/api/v1${tune}`)).json()) as { chain: { version: number; body: Chain } };
  const channels = chain.body.channels.map((channel, k) =>
    k === 0
      ? { ...channel, filters: [{ id: 'hp', place: 'amplifier', kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 80 }] }
      : channel,
  );
  const { origin } = new URL(page.url());
  const saved = await page.request.put(`/api/v1${tune}/chain`, {
    headers: { origin },
    data: { version: chain.version, chain: { ...chain.body, channels } },
  });
  expect(saved.ok()).toBe(true);
  await expect(page.getByText(/Issue 1 is superseded/)).toBeVisible();
  await page.getByRole('button', { name: 'What changed after it' }).press('Enter');
  // Its first filters came with the gear that was picked.
  await expect(page.getByRole('region', { name: 'Signed issues' })).toContainText(/filters\s*High-pass [\d.]+\s?Hz, .*High-pass 80/);
  await type(page.getByLabel(/What is left open/), 'the bass, until Tuesday');
  await page.getByRole('button', { name: 'Sign', exact: true }).press('Enter');
  await expect(page.getByText('Issue 2 matches the tune.')).toBeVisible();
  // The first one stays as it was.
  await page.getByRole('button', { name: 'Look at it' }).last().press('Enter');
  await expect(page.frameLocator('iframe').getByText('Issue 1, signed by A. Tuner')).toBeVisible();
  await find(page, 'history', /History/);
  await expect(page.getByText('Sheet signed, issue 2')).toBeVisible();
});

test('an archive goes out and in: here already, a copy of another state, and a foreign file that changes nothing', async ({ page }) => {
  await loadDemo(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save Camper trailer as an archive' }).click(),
  ]);
  const buffer = await readFile(await download.path());
  const bring = (name: string, content: Buffer) =>
    page.getByLabel('Archive file').setInputFiles({ name, mimeType: 'application/zip', buffer: content });
  const outcome = page.getByRole('region', { name: 'Archives' });
  await bring('trailer.zip', buffer);
  await expect(outcome).toContainText('here already: nothing was done');
  const tune = await demoTune(page, 'Camper trailer');
  await page.goto(`${tune}/run/gain:awning-left`);
  await page.getByRole('button', { name: 'Skip' }).click();
  await page.getByLabel('Why').fill('another state');
  await page.getByRole('button', { name: 'Skip this step' }).click();
  await expect(page.getByTestId('verdict')).toContainText('Skipped');
  await page.goto('/');
  await bring('trailer.zip', buffer);
  await expect(outcome).toContainText('brought in as a copy');
  await expect(page.getByRole('link', { name: 'Camper trailer', exact: true })).toHaveCount(3);
  await bring('holiday.zip', Buffer.from('\x89PNG a picture'));
  await expect(outcome).toContainText('Nothing was imported.');
  await expect(outcome).toContainText('no ZIP archive');
});

test('gear goes out and in as a table, with a look before anything changes', async ({ page }) => {
  await loadDemo(page);
  await page.goto('/gear');
  await expect(page.getByRole('heading', { name: 'Mono, 250 W at 2 Ω' })).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV', exact: true }).click()]);
  const text = (await readFile(await download.path())).toString();
  const table = (content: string) =>
    page.getByLabel('Gear as CSV').setInputFiles({ name: 'gear.csv', mimeType: 'text/csv', buffer: Buffer.from(content) });
  const dialog = page.getByRole('dialog', { name: 'Gear from CSV' });
  await table(`kind,name,each coil ohm,rated W\ndriver,Cone 200 mm,4 V,80\n`);
  await expect(dialog).toContainText('Line 2: each coil ohm');
  await page.keyboard.press('Escape');
  await table(text.replace('mono 2 ohm 250 W', 'mono 2 ohm 240 W'));
  await expect(dialog).toContainText('240 W mono at 2 Ω');
  await dialog.getByRole('button', { name: 'Take them' }).click();
  await expect(dialog).toBeHidden();
  await page.getByLabel('Find gear').fill('240 W');
  await expect(page.getByText('Amplifier, in the library')).toBeVisible();
  // The tune keeps what it was made with.
  await page.goto(`${await demoTune(page, 'Mobile library bus')}/chain`);
  await expect(page.getByText(/250\s?W/).first()).toBeVisible();
});

test('anything is found by a few letters, the last reading is voided from there, and the guide opens at its stage', async ({ page }) => {
  const tune = await demoTune(page, 'Driving-school car');
  await page.goto(`${tune}/run/gain:left`);
  await expect(page.getByTestId('verdict')).toBeVisible();
  await find(page, 'proof boot', /Proof: Boot bass/);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Proof: Boot bass');
  await find(page, 'void last', /Void the last reading/);
  await expect(page.getByText(/void: typed or taken wrongly/).first()).toBeVisible();
  await page.getByRole('link', { name: 'What this stage is for, in the guide' }).click();
  await expect(page.getByRole('heading', { name: 'Proof', exact: true })).toBeInViewport();
  // The guide speaks of it too: the tune itself stands first once the list of tunes is there.
  await find(page, 'library bus', /^tune\s*Mobile library bus/);
  await expect(page).toHaveURL(/\/tunes\//);
});

test('back to how the chain was at a reading, as one more change', async ({ page }) => {
  const tune = await demoTune(page, 'Mobile library bus');
  const { chain } = (await (await page.request.get(`/api/v1${tune}`)).json()) as { chain: { version: number; body: Chain } };
  const { origin } = new URL((await page.goto('/'))!.url());
  const source = { ...chain.body.source, workingVolume: 20 };
  await page.request.put(`/api/v1${tune}/chain`, {
    headers: { origin },
    data: { version: chain.version, chain: { ...chain.body, source } },
  });
  await openStep(page, 'Mobile library bus', 'gain:bass');
  await typeReading(page, '10.0');
  const stored = async () => (await (await page.request.get(`/api/v1${tune}/history`)).json()) as { kind: string }[];
  await expect.poll(async () => (await stored())[0]?.kind).toBe('reading');
  await page.request.put(`/api/v1${tune}/chain`, {
    headers: { origin },
    data: { version: chain.version + 1, chain: { ...chain.body, source: { ...source, workingVolume: 25 } } },
  });
  await page.goto(`${tune}/history`);
  const row = page
    .getByRole('listitem')
    .filter({ hasText: /Reading 10\s?V/ })
    .first();
  await row.getByRole('button', { name: 'Show chain at this point' }).click();
  await expect(row).toContainText(/20\s*25/);
  await row.getByRole('button', { name: 'Back to this chain' }).click();
  await expect
    .poll(
      async () => ((await (await page.request.get(`/api/v1${tune}`)).json()) as { chain: { body: Chain } }).chain.body.source.workingVolume,
    )
    .toBe(20);
});

test('on paper the readings stand unfolded, and on the screen the sheet grows with what is unfolded', async ({ page }) => {
  await page.goto(`${await demoTune(page, 'Mobile library bus')}/sheet`);
  const sheet = page.frameLocator('iframe');
  const readings = sheet.locator('details.readings tbody');
  await expect(readings).toBeHidden();
  await page.emulateMedia({ media: 'print' });
  await expect(readings).toBeVisible();
  await page.emulateMedia({ media: 'screen' });
  await expect(readings).toBeHidden();
  const height = async (): Promise<number> => (await page.locator('iframe').boundingBox())!.height;
  const folded = await height();
  await sheet.getByText(/^Supporting readings/).click();
  await expect(readings).toBeVisible();
  await expect.poll(height).toBeGreaterThan(folded + 100);
});
