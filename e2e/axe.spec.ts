import AxeBuilder from '@axe-core/playwright';
import { expect, test } from './runningApp.ts';
import { views } from './views.ts';

test('every view is readable and operable for all, in both themes (axe, WCAG A and AA)', async ({ page }) => {
  // Three dozen views, each looked through for a second or two.
  test.setTimeout(1_200_000);
  const railSeen = new Set<string>();
  const railOf = (url: string): string => /tunes\/[^/]+/.exec(url)?.[0] ?? url.split('/')[1] ?? '';
  for (const [name, url] of await views(page)) {
    await page.goto(url);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    if (name === 'trace') await expect(page.getByTestId('trace-verdict')).toBeVisible();
    const faultsIn = async (theme: string, axe: AxeBuilder): Promise<string[]> => {
      // Colours fade from one theme to the other: contrast counts once they have arrived.
      await page.evaluate(async (chosen) => {
        document.documentElement.dataset.theme = chosen;
        await Promise.allSettled(document.getAnimations().map(({ finished }) => finished));
      }, theme);
      const { violations } = await axe.analyze();
      return violations.map(({ id, nodes }) => `${name}, ${theme}: ${id} at ${nodes.map(({ target }) => target.join(' ')).join(', ')}`);
    };
    // Names, roles and order are the same in both themes; contrast is not.
    // The rail is the same on every step of a tune: it is looked at where it is first seen.
    const look = (): AxeBuilder => (railSeen.has(railOf(url)) ? new AxeBuilder({ page }).exclude('nav') : new AxeBuilder({ page }));
    expect(await faultsIn('daylight', look().withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']))).toEqual([]);
    expect(await faultsIn('garage', look().withRules(['color-contrast']))).toEqual([]);
    railSeen.add(railOf(url));
  }
});
