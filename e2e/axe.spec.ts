import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AxeResults, RunOptions } from 'axe-core';
import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { views } from './views.ts';

/** Put into the page once: a tab of its own for every look, as the ready-made wrapper opens one, takes longer than the look. */
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

const WCAG = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'];
const CONTRAST = ['color-contrast'];

/** What axe finds on a page that has it, in one theme. */
function faults(
  page: Page,
  theme: string,
  rules: readonly string[],
  exclude: readonly string[] = [],
): Promise<{ id: string; at: string[] }[]> {
  return page.evaluate(
    async ([chosen, runOnly, excluded]) => {
      document.documentElement.dataset.theme = chosen;
      // Colours fade from one theme to the other: contrast counts once they have arrived.
      await Promise.allSettled(document.getAnimations().map(({ finished }) => finished));
      const { axe } = window as unknown as { axe: { run: (context: object, options: RunOptions) => Promise<AxeResults> } };
      const context = { include: [['html']], exclude: excluded.map((each) => [each]) };
      const { violations } = await axe.run(context, { runOnly: [...runOnly], resultTypes: ['violations'] });
      return violations.map(({ id, nodes }) => ({ id, at: nodes.map(({ target }) => target.join(' ')) }));
    },
    [theme, rules, exclude] as const,
  );
}

test('a look finds what is wrong', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await page.evaluate(AXE);
  await page.evaluate(() => {
    document.querySelector('main')!.innerHTML += '<p style="color: #aaa; background: #999">pale on pale</p><img src="/favicon.svg">';
  });
  const ids = (await faults(page, 'daylight', WCAG)).map(({ id }) => id);
  expect(ids).toContain('color-contrast');
  expect(ids).toContain('image-alt');
  expect((await faults(page, 'garage', CONTRAST)).map(({ id }) => id)).toEqual(['color-contrast']);
});

/** A tablet, a phone and a desk. */
const SIZES = [
  [820, 1180],
  [390, 844],
  [1280, 800],
] as const;

test('every view is readable and operable for all, in both themes (axe, WCAG A and AA), and nothing is cut off at any width', async ({
  page,
}) => {
  // Three dozen views, each looked through for a second or two.
  test.setTimeout(1_200_000);
  const railSeen = new Set<string>();
  const railOf = (url: string): string => /tunes\/[^/]+/.exec(url)?.[0] ?? url.split('/')[1] ?? '';
  for (const [name, url] of await views(page)) {
    await page.goto(url);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    if (name === 'trace') await expect(page.getByTestId('trace-verdict')).toBeVisible();
    await page.evaluate(AXE);
    // The rail is the same on every step of a tune: it is looked at where it is first seen.
    const exclude = railSeen.has(railOf(url)) ? ['nav'] : [];
    const faultsIn = async (theme: string, rules: string[]): Promise<string[]> =>
      (await faults(page, theme, rules, exclude)).map(({ id, at }) => `${name}, ${theme}: ${id} at ${at.join(', ')}`);
    // Names, roles and order are the same in both themes; contrast is not.
    expect(await faultsIn('daylight', WCAG)).toEqual([]);
    expect(await faultsIn('garage', CONTRAST)).toEqual([]);
    railSeen.add(railOf(url));
    for (const [width, height] of SIZES) {
      await page.setViewportSize({ width, height });
      // What is drawn to measure follows a frame later.
      const overhang = (): Promise<number> =>
        page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
      await expect.poll(overhang, { message: `${name} at ${width}: pixels too wide` }).toBe(0);
    }
  }
});
