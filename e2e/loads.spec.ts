import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { loadDemo, typeReading } from './steps.ts';

test.describe.configure({ mode: 'serial' });

const TRAILER = '/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0003';

const terminal = (page: Page, name: string) => page.getByRole('button', { name: new RegExp(`^${name},`) });

/** Joins two terminals, or parts them, without touching the mouse. */
async function joinByKey(page: Page, from: string, to: string): Promise<void> {
  await terminal(page, from).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(`From ${from} to …`)).toBeVisible();
  await terminal(page, to).focus();
  await page.keyboard.press('Enter');
}

test('a load that is too low leads to the planner, which says what is possible', async ({ page }) => {
  await loadDemo(page);
  await page.goto(`${TRAILER}/run/hookup:awning-right`);
  await expect(page.getByRole('main')).toContainText('1.33 ohm is below the lowest stereo load of 2 ohm');
  await page.getByRole('main').getByRole('link', { name: 'Plan the wiring' }).first().click();
  await expect(page.getByTestId('load')).toHaveText(/^1\.33\sΩ$/);
  await page.getByLabel('Target load').fill('4');
  await expect(page.getByText('No wiring of these drivers gives 4')).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: /^4 drivers of two 2 Ω coils each$/ })).toBeVisible();
  await page.getByRole('radio', { name: /^12 ohm, all in series/ }).check({ force: true });
  await expect(page.getByTestId('load')).toHaveText(/^12\sΩ$/);
  await expect(page.getByRole('listitem').filter({ hasText: 'Jumper from A minus to B plus' })).toContainText('series jumper');
});

test('the wiring is changed by joining terminals with the keyboard, judged at once, and put into the chain', async ({ page }) => {
  await page.goto(`${TRAILER}/wiring/awning-right`);
  await page.getByRole('radio', { name: /^12 ohm/ }).check({ force: true });
  await page.getByRole('button', { name: 'Join terminals' }).click();
  const judgement = page.getByTestId('judgement');

  // B and C side by side, behind A.
  await joinByKey(page, 'B minus', 'C plus');
  await expect(judgement).toContainText('No closed path');
  await expect(page.getByRole('button', { name: 'Use this wiring' })).toBeDisabled();
  await joinByKey(page, 'B plus', 'C plus');
  await joinByKey(page, 'B minus', 'C minus');
  await expect(page.getByTestId('load')).toHaveText(/^6\sΩ$/);
  await expect(judgement).toContainText('they do not share the power equally');

  // A wire too many is told, and undone.
  await joinByKey(page, 'A plus', 'A minus');
  await expect(judgement).toContainText('A: plus and minus of the coil are joined');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('load')).toHaveText(/^6\sΩ$/);

  // Arrow keys move from terminal to terminal.
  await terminal(page, 'A plus').focus();
  await page.keyboard.press('ArrowDown');
  await expect(terminal(page, 'A minus')).toBeFocused();

  await page.reload();
  await expect(page.getByTestId('load')).toHaveText(/^6\sΩ$/);
  await page.getByRole('button', { name: 'Use this wiring' }).click();
  await expect(page.getByText('In the chain', { exact: true })).toBeVisible();
});

test('the load tables are made for the amplifier at hand, and printed without what is for the screen', async ({ page }) => {
  await page.goto('/loads/table');
  await expect(page).toHaveTitle('Loads of one to four drivers · Yield');
  await page.getByLabel('Lowest load of the amplifier').fill('2');
  const twin = page.getByRole('region', { name: 'Drivers of two coils' });
  const two = twin.getByRole('row').filter({ has: page.getByRole('rowheader', { name: '2', exact: true }) });
  // Two drivers of two 4-ohm coils: all in parallel 1, coils in series and drivers in parallel 4, all in series 16.
  const loads = two.getByRole('cell').nth(2).getByRole('listitem');
  await expect(loads.filter({ hasText: /^1\sΩ, too low/ })).toHaveCount(1);
  await expect(loads.filter({ hasText: /^4\sΩ, /, hasNotText: 'too low' })).toHaveCount(1);
  await expect(loads.filter({ hasText: /^16\sΩ, / })).toHaveCount(1);
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByText(/^For an amplifier that is good to 2\sΩ/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Print' })).toBeHidden();
  await expect(page.getByRole('navigation', { name: 'Tools' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });
});

test('a printed wiring says job, vehicle, amplifier and date, and the tab where one is', async ({ page }) => {
  await page.goto(`${TRAILER}/wiring/awning-right`);
  await expect(page).toHaveTitle('Wiring · Camper trailer · Yield');
  await page.emulateMedia({ media: 'print' });
  const line = page.getByText(/^Camper trailer, /).filter({ visible: true });
  await expect(line).toContainText(/\d{4}/);
  await expect(line).toContainText(/amplifier|channel/i);
  await page.emulateMedia({ media: 'screen' });
  await page.goto(`${TRAILER}/chain`);
  await expect(page).toHaveTitle('Chain · Camper trailer · Yield');
});

test('a wrong figure on the meter is diagnosed, the right one ends the stage, and the gain uses the load', async ({ page }) => {
  await page.goto(`${TRAILER}/wiring/awning-right`);
  await page.getByRole('link', { name: 'Meter it' }).click();
  const diagnosis = page.getByTestId('diagnosis');
  await page.getByRole('button', { name: 'Measure again' }).click();
  await page.getByLabel('First the leads', { exact: false }).first().fill('200m');
  await page.keyboard.press('Enter');
  await expect(page.getByText('0.2 Ω, taken off')).toBeVisible();

  await page.locator('body').press('b');
  await page.getByLabel('The wiring is').selectOption('driver-missing');
  await typeReading(page, await meterShows(page));
  await expect(page.getByRole('main')).toContainText('Not as intended');
  await expect(diagnosis).toContainText('driver missing');
  await expect(diagnosis).toContainText('A reversed coil reads the same');

  await page.getByLabel('The wiring is').selectOption('open');
  await expect(page.getByLabel('Meter display')).toHaveText('OL');
  await typeReading(page, 'OL');
  await expect(diagnosis).toContainText('No path from plus to minus');

  await page.getByLabel('The wiring is').selectOption('none');
  await typeReading(page, await meterShows(page));
  await expect(page.getByRole('main')).toContainText('As intended');
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();

  await page.goto(`${TRAILER}/run/coils:awning-right`);
  for (const letter of ['A', 'B', 'C']) {
    await expect(page.getByText(`${letter} reads`)).toBeVisible();
    await typeReading(page, await meterShows(page));
  }
  await expect(page.getByTestId('verdict')).toContainText('Every coil reads correctly');

  await page.goto(`${TRAILER}/run/hookup:awning-right`);
  await expect(page.getByRole('checkbox', { name: 'no strand' })).toBeVisible();
  // Pressed faster than the screen is drawn: each tick counts.
  await page
    .getByRole('main')
    .getByRole('checkbox')
    .evaluateAll((boxes) => {
      for (const box of boxes) (box as HTMLElement).click();
    });
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Loads' })).toContainText('3 of 5');

  await page.goto(`${TRAILER}/run/gain:awning-right`);
  // 75 W at 4 ohm is 50 W at 6 ohm: sqrt(50 × 6)
  await expect(page.getByText(/^17\.3\s?V$/)).toBeVisible();

  // Another wiring makes the metering stale.
  await page.goto(`${TRAILER}/wiring/awning-right`);
  await page.getByRole('radio', { name: /^12 ohm/ }).check({ force: true });
  await page.getByRole('button', { name: 'Use this wiring' }).click();
  await page.getByRole('link', { name: 'Meter it' }).click();
  await expect(page.getByRole('main')).toContainText('the wiring was 2 parallel groups in series and is now all in series');
});

async function meterShows(page: Page): Promise<string> {
  await page.waitForTimeout(100);
  return (await page.getByLabel('Meter display').textContent()) ?? '';
}

test('the planner stands on its own: eight drivers, a wish, a drawing to keep', async ({ page }) => {
  await page.goto('/loads');
  for (let i = 0; i < 6; i += 1) await page.getByRole('button', { name: /^More drivers/ }).click();
  await expect(page.getByText('8 of 8')).toBeVisible();
  await expect(page.getByRole('button', { name: /^More drivers/ })).toBeDisabled();
  await page.getByRole('radio', { name: /^4 ohm/ }).check({ force: true });
  await expect(page.getByTestId('load')).toHaveText(/^4\sΩ$/);
  await expect(
    page
      .getByRole('region', { name: 'Connections' })
      .getByRole('listitem')
      .filter({ hasText: /^\d+: / }),
  ).toHaveCount(23);

  await page.getByLabel('Each coil').fill('four');
  await expect(page.getByText(/“four”|number/).first()).toBeVisible();
  await page.getByLabel('Each coil').fill('2,0');
  await expect(page.getByTestId('load')).not.toHaveText('–');
  await page.reload();
  await expect(page.getByLabel('Each coil')).toHaveValue('2,0');

  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'SVG' }).click()]);
  expect(file.suggestedFilename()).toBe('wiring.svg');
  const svg = await readFile(await file.path(), 'utf8');
  expect(svg).toContain('xmlns="http://www.w3.org/2000/svg"');
  expect(svg).not.toContain('var(');
});

test('on paper the drawing of eight drivers and its list stand on one page', async ({ page }) => {
  await page.goto('/loads/wiring');
  for (let i = 0; i < 6; i += 1) await page.getByRole('button', { name: /^More drivers/ }).click();
  await page.getByRole('radio', { name: /^4 ohm/ }).check({ force: true });
  await expect(page.getByTestId('load')).toHaveText(/^4\sΩ$/);
  const pdf = (await page.pdf({ format: 'A4' })).toString('latin1');
  expect(pdf.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
});

test('terminals are joined by dragging and by tapping too', async ({ page }) => {
  await page.goto('/loads/wiring');
  await page.getByRole('button', { name: 'Join terminals' }).click();
  await page.getByRole('button', { name: 'Take all out' }).click();
  await expect(page.getByTestId('judgement')).toContainText('No closed path');
  await terminal(page, 'amplifier plus').scrollIntoViewIfNeeded();
  const middle = async (name: string): Promise<[number, number]> => {
    const box = (await terminal(page, name).boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2];
  };
  await page.mouse.move(...(await middle('amplifier plus')));
  await page.mouse.down();
  await page.mouse.move(...(await middle('A coil 1 plus')), { steps: 5 });
  await page.mouse.up();
  await expect(page.getByText('Wire from amplifier plus to A coil 1 plus')).toBeVisible();
  await terminal(page, 'A coil 1 minus').click();
  await terminal(page, 'amplifier minus').click();
  await expect(page.getByTestId('judgement')).toContainText('A coil 2 is not in the circuit');
});

test('the other tools answer as they are typed', async ({ page }) => {
  await page.goto('/loads/resistor');
  await expect(page.getByText(/50\s% of the power is lost as heat/)).toBeVisible();
  await page.getByLabel('Its rating').fill('5');
  await expect(page.getByText('it will burn', { exact: false })).toBeVisible();
  await page.getByRole('link', { name: 'Speaker wire' }).click();
  await page.getByText('AWG', { exact: true }).click();
  await expect(page.getByRole('row', { name: /^12 AWG/ })).toContainText('fits');
  await page.getByRole('link', { name: 'How loud' }).click();
  await page.getByLabel('Measured there').fill('100');
  await expect(page.getByText('look for a reversed driver', { exact: false })).toBeVisible();
  await page.getByRole('link', { name: 'Hook-up' }).click();
  await page.getByRole('textbox', { name: 'Subwoofer' }).fill('2');
  await expect(page.getByText('2 ohm is 1 ohm for each channel', { exact: false }).first()).toBeVisible();
  await page.getByRole('link', { name: 'Meter check' }).click();
  await page.getByLabel('Meter reads across the whole').fill('OL');
  await expect(page.getByTestId('diagnosis')).toContainText('No path from plus to minus');
});

test('a wiring saved in two windows is told, and what the other one saved is shown', async ({ page, context }) => {
  const other = await context.newPage();
  for (const window of [page, other]) await window.goto(`${TRAILER}/wiring/awning-right`);
  await page.getByRole('radio', { name: /^1\.33 ohm/ }).check({ force: true });
  await other.getByLabel(/that share the power unequally/).check();
  await other.getByRole('radio', { name: /^2\.67 ohm/ }).check({ force: true });
  await other.getByRole('button', { name: 'Use this wiring' }).click();
  await expect(other.getByText('In the chain', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Use this wiring' }).click();
  const dialog = page.getByRole('dialog', { name: 'The chain was changed in another window' });
  await expect(dialog).toContainText(/2\.67\sΩ/);
  await dialog.getByRole('button', { name: 'Save mine over it' }).click();
  await expect(page.getByText('In the chain', { exact: true })).toBeVisible();
});

test('editing the drivers drops a wiring that no longer fits them', async ({ page }) => {
  await page.goto('/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001/chain');
  const row = page.getByRole('main').getByRole('listitem').filter({ hasText: 'Bass under the counter' });
  await expect(row.getByRole('link', { name: /^Wired coils in/ })).toBeVisible();
  await page.getByRole('button', { name: 'Edit Bass under the counter' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Each coil').fill('2');
  await dialog.getByLabel('Load of the wiring').fill('1');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await row.getByRole('link', { name: 'Plan the wiring' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Wiring: Bass under the counter');
  await expect(page.getByRole('radio', { name: /^4 ohm, coils in series/ })).toBeChecked();
});

test('a resistance is entered on a phone, and kept while the server is away', async ({ page, app }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0002/run/whole:right');
  await expect(page.getByTestId('diagnosis')).toBeVisible();
  await app.stopServer();
  await typeReading(page, '1.9');
  await expect(page.getByRole('main')).toContainText('Not as intended');
  await expect(page.getByRole('main')).toContainText('kept in this browser');
  await app.startServer();
  await expect(page.getByRole('main')).not.toContainText('kept in this browser', { timeout: 40_000 });
  await page.reload();
  await expect(page.getByRole('main')).toContainText('Not as intended');
});

test('a response is evened out on the desk: filters, their effect one by one, and what is wrong with a table', async ({ page }) => {
  await page.goto('/loads/equaliser');
  await expect(page.getByTestId('fit')).toContainText(/dB off level before, 0\.\d dB after/);
  const words = await page.getByTestId('fit').innerText();
  const first = page.getByRole('checkbox', { name: /^Filter at/ }).first();
  await first.uncheck();
  await expect(first).not.toBeChecked();
  await page.getByLabel('Most cut').fill('2');
  await expect(page.getByTestId('fit')).not.toHaveText(words);
  await expect(page.getByText('stays more than 2 dB off', { exact: false }).first()).toBeVisible();
  await page.getByText('Graphic, octaves').click();
  await expect(page.getByRole('checkbox', { name: /^Filter at 63/ })).toBeVisible();
  await page.getByLabel(/^Response:/).fill('20 80\n40 81\n30 82');
  await expect(page.getByRole('alert')).toContainText('Line 3: 30 Hz after 40 Hz');
  await page.getByLabel(/^Response:/).fill('20 80\n40 81\n60 82');
  await expect(page.getByRole('alert')).toContainText('the response ends at 60 Hz');
});
