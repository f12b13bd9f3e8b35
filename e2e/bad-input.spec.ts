import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from './runningApp.ts';
import { demoTune, loadDemo, openStep, typeReading } from './steps.ts';

const csv = (text: string, name = 'capture.csv'): { name: string; mimeType: string; buffer: Buffer } => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(text),
});
const rows = (count: number, row: (i: number) => string): string => Array.from({ length: count }, (_, i) => row(i)).join('\n');
const PNG = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex');

test('a reading of "abc" is refused in words and stays to be mended', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  await typeReading(page, 'abc');
  const entry = page.getByLabel('Meter reads', { exact: false }).first();
  await expect(page.getByRole('alert')).toContainText('“abc” is not a number');
  await expect(entry).toHaveValue('abc');
  await entry.fill('12 ohm');
  await entry.press('Enter');
  await expect(page.getByRole('alert')).toContainText('wants volts');
});

test('what is typed and not entered survives a reload', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  await page.locator('body').press('r');
  await page.keyboard.type('15.');
  await page.reload();
  await expect(page.getByLabel('Meter reads', { exact: false }).first()).toHaveValue('15.');
});

test('two windows that type in different fields leave each other’s drafts alone', async ({ page, context }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  const second = await context.newPage();
  await openStep(second, 'Mobile library bus', 'gain:reading-left');
  for (const [window, text] of [
    [page, '21.'],
    [second, '9.'],
    [page, '5'],
  ] as const) {
    await window.locator('body').press('r');
    await window.keyboard.type(text);
  }
  for (const window of [page, second]) await window.reload();
  await expect(page.getByLabel('Meter reads', { exact: false }).first()).toHaveValue('21.5');
  await expect(second.getByLabel('Meter reads', { exact: false }).first()).toHaveValue('9.');
});

test('a dialog closed with Escape says what it kept, and offers both ways', async ({ page }) => {
  await page.goto(`${await demoTune(page, 'Mobile library bus')}/chain`);
  const open = async (): Promise<void> =>
    page.getByRole('region', { name: 'Source', exact: true }).getByRole('button', { name: /^Edit/ }).click();
  await open();
  const dialog = page.getByRole('dialog');
  const name = dialog.getByLabel('Source', { exact: true });
  const stored = await name.inputValue();
  await name.fill('Another radio');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await open();
  await expect(dialog.getByRole('status')).toContainText('Kept from before, not saved yet.');
  await expect(name).toHaveValue('Another radio');
  await dialog.getByRole('button', { name: 'Take what is stored' }).click();
  await expect(name).toHaveValue(stored);
  await page.keyboard.press('Escape');
  await open();
  await expect(dialog.getByRole('status')).toHaveCount(0);
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 800 }, hasTouch: true, isMobile: true });
  test('what a meter shows beside digits stands beside the field', async ({ page }) => {
    await openStep(page, 'Mobile library bus', 'gain:bass');
    const entry = page.getByLabel('Meter reads', { exact: false }).first();
    await entry.fill('850');
    await page.getByRole('button', { name: 'm', exact: true }).click();
    await expect(entry).toHaveValue('850m');
    await expect(page.getByText(/reads as 850\smV/)).toBeVisible();
    await page.goto(`${await demoTune(page, 'Mobile library bus')}/run/whole:bass`);
    await page.getByRole('button', { name: 'OL', exact: true }).first().click();
    await expect(page.getByText('reads as overload: no path')).toBeVisible();
  });
});

test('files that are no captures are refused, each with its reason', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'proof:right');
  const choose = page.getByLabel('Capture file');
  const cases = [
    [csv(''), 'The file is empty'],
    [{ name: 'photo.csv', mimeType: 'text/csv', buffer: PNG }, 'a picture (PNG), whatever its name says'],
    [csv(`Time,CH1\n${rows(50, (i) => `${i * 0.001},1`)}\n${rows(50, (i) => `${i * 0.001},1`)}\n`), 'Time runs backwards at row 51'],
    [csv(`Time,CH1,CH2\n${rows(50, (i) => `${i},1,2`)}\n${rows(50, (i) => `${50 + i},1,`)}\n`), 'Line 52: CH2 has no value'],
  ] as const;
  for (const [file, words] of cases) {
    await choose.setInputFiles(file);
    await expect(page.getByRole('alert')).toContainText(words);
    await expect(page.getByRole('alert')).toContainText(`${file.name} was not taken`);
  }
  await expect(page.getByRole('region', { name: 'Captures' })).toHaveCount(0);
});

test('a file over the limit is refused before it is read', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'proof:right');
  const folder = mkdtempSync(path.join(os.tmpdir(), 'yield-large-'));
  const large = path.join(folder, 'hours.csv');
  const handle = openSync(large, 'w');
  writeSync(handle, 'x', 257_000_000); // sparse: takes no room
  closeSync(handle);
  await page.getByLabel('Capture file').setInputFiles(large);
  await expect(page.getByRole('alert')).toContainText('the limit is 256 MB');
  rmSync(folder, { recursive: true });
});

test('a load of 0 ohm and a load that no wiring gives are refused at the field', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  await page.locator('body').press('c');
  await page.getByRole('button', { name: 'Edit Bass under the counter' }).click();
  const dialog = page.getByRole('dialog');
  const load = dialog.getByLabel('Load of the wiring');
  await load.fill('3');
  await load.fill('0');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('no wiring of these drivers gives 0 ohm');
  await load.fill('16');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toContainText('all in parallel they are 2 ohm, all in series 8 ohm');
  await expect(load).toHaveValue('16');
});

test('a stale save from a second window is refused, with both sides shown', async ({ page, context }) => {
  await openStep(page, 'Driving-school car', 'gain:left');
  await page.locator('body').press('c');
  const second = await context.newPage();
  await second.goto(page.url());
  for (const [window, volume] of [
    [page, '20'],
    [second, '18'],
  ] as const) {
    await window.getByRole('button', { name: 'Edit Factory unit with preamp adapter' }).click();
    await window.getByRole('dialog').getByLabel('Working volume', { exact: true }).fill(volume);
  }
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('20 of 30')).toBeVisible();
  // Stored, and told to the second window, whose form stays as it is.
  await expect(second.getByText('20 of 30')).toBeVisible();
  await second.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  const conflict = second.getByRole('dialog', { name: 'The chain was changed in another window' });
  await expect(conflict.getByRole('row', { name: 'source, working volume 18 20' })).toBeVisible();
  await conflict.getByRole('button', { name: 'Save mine over it' }).click();
  await expect(second.getByText('18 of 30')).toBeVisible();
  // The gain that was set at volume 22 is stale now, and says why.
  await second.goto(second.url().replace('/chain', '/run/gain:left'));
  await expect(second.getByTestId('verdict')).toContainText('the source volume was 22 and is now 18');
});

test('a reading sent while the database is stopped is kept, sent when it is back, and stored once', async ({ page, app, request }) => {
  await openStep(page, 'Mobile library bus', 'gain:reading-right');
  await app.stopDatabase();
  await typeReading(page, '9.47');
  await expect(page.getByTestId('verdict')).toContainText('On target');
  await expect(page.getByText('1 entry kept in this browser until the server is back')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Readings' })).toContainText('kept in this browser');

  await app.startDatabase();
  // A reload in between: what the browser keeps is sent by the next visit.
  await page.reload();
  await expect(page.getByTestId('verdict')).toContainText('On target');
  await expect(page.getByText('kept in this browser')).toHaveCount(0, { timeout: 20_000 });
  const tuneId = /tunes\/([^/]+)/.exec(page.url())?.[1] ?? '';
  const tune = (await (await request.get(`/api/v1/tunes/${tuneId}`)).json()) as { readings: { value: number }[] };
  expect(tune.readings.filter(({ value }) => value === 9.47)).toHaveLength(1);
});

test('a server that is down says so and keeps the list’s place', async ({ page }) => {
  await loadDemo(page);
  await page.route('**/api/v1/**', (route) => route.abort());
  await page.getByRole('link', { name: 'Camper trailer', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('The server does not answer');
});

test('a tune that is put away can be brought back', async ({ page }) => {
  await loadDemo(page);
  await page.getByRole('button', { name: 'Delete Camper trailer' }).click();
  await expect(page.getByRole('link', { name: 'Camper trailer', exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(page.getByRole('link', { name: 'Camper trailer', exact: true })).toBeVisible();
});
