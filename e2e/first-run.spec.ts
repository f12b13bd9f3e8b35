// A newcomer's way: from an empty list of tunes to one gain that is proved under load, by what the screen says and the bench shows.
import { expect, test } from './runningApp.ts';
import { dropCapture, saveCapture, seeTo, turnKnobTo, typeReading } from './steps.ts';

test('from an empty list to one proved gain on the simulated bench', async ({ page }) => {
  const began = Date.now();
  await page.goto('/');
  await page.getByRole('button', { name: 'A first run, five minutes' }).click();
  const guide = page.getByRole('region', { name: 'First run' });
  const heading = page.getByRole('heading', { level: 1 });
  const shown = async (): Promise<string> => {
    // A meter takes its time.
    await page.waitForTimeout(550);
    return (await page.getByLabel('Meter display').textContent()) ?? '';
  };
  const tickAll = async (): Promise<void> => {
    await expect(page.getByRole('main').getByRole('checkbox').first()).toBeVisible();
    await seeTo(page);
  };
  const next = async (title: RegExp): Promise<void> => {
    await guide.getByRole('link', { name: 'What is next' }).click();
    await expect(heading).toHaveText(title);
  };
  await expect(heading).toHaveText('Load resistance: Bass');
  await expect(guide).toContainText('0 of 7 done');
  await page.locator('body').press('b');
  await typeReading(page, await shown());
  await expect(guide).toContainText('1 of 7 done');
  await next(/^Hook-up/);
  await tickAll();
  await next(/^Flat/);
  await tickAll();
  await next(/^Clean ceiling/);
  // Step by step up, until the voltage hardly rises any more.
  const isFound = page.getByText(/is still an assumption|but the source is clean only up to/);
  for (let volume = 20; volume <= 40 && !(await isFound.isVisible()); volume += 1) {
    await expect(page.getByText(`Meter, AC volts, volume ${volume}`)).toBeVisible();
    await page.getByLabel('Meter reads', { exact: true }).fill(await shown());
    await page.keyboard.press('Enter');
  }
  await page.getByRole('button', { name: /as the working volume/ }).click();
  await expect(guide).toContainText('4 of 7 done');
  await next(/^Filters/);
  await page.getByRole('checkbox', { name: /Every filter on its way is off/ }).check();
  // What the load takes off is known after the first proof: then the gain goes up by that, and is proved again.
  for (let round = 0; round < 3 && !(await guide.getByText('A proved gain').isVisible()); round += 1) {
    await next(/^Gain/);
    await tickAll();
    const said = await page.getByRole('main').innerText();
    const wanted = Number(/Target\s+([\d.]+)\s+V/.exec(said)?.[1]);
    await typeReading(page, await turnKnobTo(page, wanted));
    await next(/^Proof/);
    await tickAll();
    await typeReading(page, await shown());
    await dropCapture(page, await saveCapture(page));
    await expect(page.getByTestId('verdict')).toContainText('clean under load');
  }
  await expect(guide).toContainText('A proved gain');
  await guide.getByRole('link', { name: /a tune of your own/ }).click();
  await expect(page.getByText('First run').first()).toBeVisible();
  expect(Date.now() - began).toBeLessThan(300_000);
});
