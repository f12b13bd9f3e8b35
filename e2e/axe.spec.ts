import AxeBuilder from '@axe-core/playwright';
import { expect, test } from './runningApp.ts';
import { views } from './views.ts';

test('every view is readable and operable for all, in both themes (axe, WCAG A and AA)', async ({ page }) => {
  // Three dozen views, each looked through for a second or two.
  test.setTimeout(1_200_000);
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
    const all = new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa']);
    expect(await faultsIn('daylight', all)).toEqual([]);
    expect(await faultsIn('garage', new AxeBuilder({ page }).withRules(['color-contrast']))).toEqual([]);
  }
});
