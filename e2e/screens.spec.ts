import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { loadDemo, openStep } from './steps.ts';

async function tuneUrl(page: Page, name: string): Promise<string> {
  await loadDemo(page);
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page).toHaveURL(/\/run\//);
  return page.url().replace(/\/run\/.*/, '');
}

/** Every main view, with the demo's figures in it. */
async function views(page: Page): Promise<[string, string][]> {
  const bus = await tuneUrl(page, 'Mobile library bus');
  const car = await tuneUrl(page, 'Driving-school car');
  const trailer = await tuneUrl(page, 'Camper trailer');
  const van = await tuneUrl(page, 'Puppet theatre van');
  await page.goto(`${car}/run/proof:boot`);
  await page.getByRole('link', { name: 'Look' }).first().click();
  await expect(page.getByTestId('trace-verdict')).toBeVisible();
  return [
    ['list', '/'],
    ['chain', `${bus}/chain`],
    ['gain', `${bus}/run/gain:reading-right`],
    ['stop', `${trailer}/run/gain:awning-right`],
    ['proof', `${car}/run/proof:boot`],
    ['trace', page.url()],
    ['load pair', `${bus}/run/load-pair:bass`],
    ['house rules', `${bus}/settings`],
    ['coils', `${bus}/run/coils:bass`],
    ['whole', `${bus}/run/whole:bass`],
    ['hook-up', `${bus}/run/hookup:bass`],
    ['wiring', `${bus}/wiring/bass`],
    ['flat', `${bus}/run/flat:stick`],
    ['ceiling', `${bus}/run/ceiling:preamp-sub`],
    ['ceiling, nothing read', `${trailer}/run/ceiling:preamp-front`],
    ['factory signal', `${car}/run/factory:source`],
    ['input level', `${car}/run/input:front`],
    ['output level', `${car}/run/output:out-right`],
    ['crossovers', `${bus}/crossovers`],
    ['crossovers, none set', `${van}/crossovers`],
    ['filters', `${bus}/run/filters:front-left`],
    ['filters, a bare tweeter', `${van}/run/filters:tweeter-left`],
    ['filter proof', `${bus}/run/crossover:front-left-hp`],
    ['tones', '/tones'],
    ...['wiring', 'meter', 'hook-up', 'resistor', 'wire', 'passive', 'loud'].map((tool): [string, string] => [
      `desk, ${tool}`,
      `/loads/${tool}`,
    ]),
  ];
}

test('every view is readable and operable for all, in both themes (axe, WCAG A and AA)', async ({ page }) => {
  // Three dozen views, each looked through for a second or two.
  test.setTimeout(600_000);
  for (const [name, url] of await views(page)) {
    await page.goto(url);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    if (name === 'trace') await expect(page.getByTestId('trace-verdict')).toBeVisible();
    const faultsIn = async (theme: string, axe: AxeBuilder): Promise<string[]> => {
      await page.evaluate((chosen) => (document.documentElement.dataset.theme = chosen), theme);
      const { violations } = await axe.analyze();
      return violations.map(({ id, nodes }) => `${name}, ${theme}: ${id} at ${nodes.map(({ target }) => target.join(' ')).join(', ')}`);
    };
    // Names, roles and order are the same in both themes; contrast is not.
    const all = new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']);
    expect(await faultsIn('daylight', all)).toEqual([]);
    expect(await faultsIn('garage', new AxeBuilder({ page }).withRules(['color-contrast']))).toEqual([]);
  }
});

test('nothing is cut off at any width', async ({ page }) => {
  test.slow();
  for (const [name, url] of await views(page)) {
    await page.goto(url);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    for (const [width, height] of [
      [1280, 800],
      [1024, 768],
      [820, 1180],
      [390, 844],
    ] as const) {
      await page.setViewportSize({ width, height });
      // What is drawn to measure follows a frame later.
      const overhang = (): Promise<number> =>
        page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
      await expect.poll(overhang, { message: `${name} at ${width}: pixels too wide` }).toBe(0);
    }
  }
});

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
  await expect(page.getByTestId('verdict')).toContainText('Nobody has looked at the filters');
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
  await page.getByLabel('Recorded level of the tones').fill('-5');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await page.getByRole('button', { name: /^Gains/ }).click();
  await page.getByRole('link', { name: 'Gain: Front right' }).click();
  // sqrt(45 W × 4 ohm) × 10^(−5 / 20)
  await expect(page.getByText(/^7\.54\s?V$/)).toBeVisible();
  await expect(page.getByTestId('verdict')).toContainText('recorded level was 0.0');
});
