import { expect, test } from './runningApp.ts';
import { loadDemo, demoTune, openStep } from './steps.ts';

test('main actions are tall enough for a thumb', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  for (const name of ['Enter Meter reads', 'Play t']) {
    const box = await page.getByRole('button', { name }).boundingBox();
    expect(box!.height).toBeGreaterThanOrEqual(44);
  }
  const figure = await page.getByText(/^15\.8\s?V$/).evaluate((element) => parseFloat(getComputedStyle(element).fontSize));
  expect(figure).toBeGreaterThanOrEqual(48);
});

test('the keys move through the run and list themselves', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:front-left');
  const title = page.getByRole('heading', { level: 1 });
  await page.locator('body').press('j');
  await expect(title).toHaveText('Gain: Front right');
  await page.locator('body').press('k');
  await expect(title).toHaveText('Gain: Front left');
  await page.locator('body').press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('type a reading');
  await page.keyboard.press('Escape');
  await page.locator('body').press('c');
  await expect(title).toHaveText('Chain');
  await page.locator('body').press('h');
  await expect(title).toHaveText('Tunes');
});

test('a step is skipped with a reason and taken up again', async ({ page }) => {
  await openStep(page, 'Camper trailer', 'gain:awning-left');
  await page.getByRole('button', { name: 'Skip' }).click();
  await page.getByLabel('Why').fill('speakers not delivered');
  await page.getByRole('button', { name: 'Skip this step' }).click();
  await expect(page.getByTestId('verdict')).toContainText('Skipped: speakers not delivered');
  await page.getByRole('button', { name: 'Take it up again' }).click();
  await expect(page.getByTestId('verdict')).toContainText('are not confirmed yet');
});

test('the theme is kept, and changes what is drawn', async ({ page }) => {
  await loadDemo(page);
  await page.getByRole('button', { name: /garage theme/ }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'garage');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'garage');
});

test('a house rule changes the target and makes the reading stale', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'gain:right');
  await expect(page.getByTestId('verdict')).toContainText('On target');
  await page.getByRole('link', { name: 'House rules' }).click();
  await page.getByRole('button', { name: /How are your tones recorded/ }).click();
  await page.getByRole('radio', { name: /^−5 dBFS/ }).check();
  await expect(page.getByRole('status').filter({ hasText: '3 figures of “Gain” would change' })).toBeVisible();
  await page.getByRole('button', { name: 'Use this' }).click();
  await expect(page.getByRole('button', { name: /How are your tones recorded.*−5 dBFS/ })).toBeVisible();
  await page.getByRole('button', { name: /^Gains/ }).click();
  await page.getByRole('link', { name: 'Gain: Front right' }).click();
  // sqrt(45 W × 4 ohm) × 10^(−5 / 20)
  await expect(page.getByText(/^7\.54\s?V$/)).toBeVisible();
  await expect(page.getByTestId('verdict')).toContainText('recorded level was 0.0');
});

test('what is wrong stands in one list, worst first, with the way to its step', async ({ page }) => {
  await page.goto(`${await demoTune(page, 'Camper trailer')}/run`);
  await expect(page.getByRole('link', { name: 'Findings' })).toBeVisible();
  await page.keyboard.press('f');
  await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
  const headings = await page.getByRole('main').getByRole('heading', { level: 2 }).allTextContents();
  expect(headings[0]).toMatch(/^Stop/);
  await page.getByRole('region', { name: 'Stop' }).getByRole('link').first().click();
  await expect(page).toHaveURL(/\/run\/[a-z-]+:/);
});

test('the owner’s sheet says no more than was measured, and its page opens from a file with the network cut', async ({ page, context }) => {
  await page.goto(`${await demoTune(page, 'Mobile library bus')}/history`);
  await page.getByRole('link', { name: 'Owner’s sheet' }).click();
  const sheet = page.frameLocator('iframe[title="Owner’s sheet as it will be printed"]');
  await expect(sheet.getByRole('heading', { name: 'Mobile library bus' })).toBeVisible();
  await expect(sheet.getByText('This tune is not finished.')).toBeVisible();
  await expect(sheet.locator('section').filter({ has: page.getByRole('heading', { name: 'Front left' }) })).toContainText(
    'clean under load',
  );
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as a page' }).click()]);
  expect(download.suggestedFilename()).toBe('Mobile-library-bus-owner.html');
  const file = `${await download.path()}.html`;
  await download.saveAs(file);
  await context.setOffline(true);
  const other = await context.newPage();
  const fetched: string[] = [];
  other.on('request', (request) => fetched.push(request.url()));
  await other.goto(`file://${file}`);
  await expect(other.getByRole('heading', { name: 'Never louder than' })).toBeVisible();
  expect(fetched).toHaveLength(1);
  await context.setOffline(false);
});
