import { readFile } from 'node:fs/promises';
import { expect, test } from './runningApp.ts';
import { dropCapture, loadDemo, openStep, saveCapture, seeTo, turnKnobTo, typeReading } from './steps.ts';

test.describe.configure({ mode: 'serial' });

test('an empty start offers the demo, and loads it', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByText('No tunes yet')).toBeVisible();
  await loadDemo(page);
  await expect(page.getByText('1.33 ohm is below the lowest stereo load of 2 ohm', { exact: false }).first()).toBeVisible();
});

test('a gain is set on the simulated bench, readings logged by keyboard', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  const verdict = page.getByTestId('verdict');
  await expect(verdict).toContainText('Play the tone');
  await expect(page.getByRole('link', { name: 'filters confirmed' })).toBeVisible();
  for (const check of ['volume at 34', 'drivers disconnected']) await page.getByRole('checkbox', { name: check }).check();
  await page.locator('body').press('b');

  // Too little first: the advice says how far.
  const low = await turnKnobTo(page, 11);
  await typeReading(page, low);
  await expect(verdict).toContainText(/3\.\d\sdB too low/);
  await expect(verdict).toContainText('Turn the gain up');

  const right = await turnKnobTo(page, 15.8);
  await typeReading(page, right.replace('.', ','));
  await expect(verdict).toContainText('On target');
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();
  await expect(page.getByRole('list').filter({ hasText: 'volts' }).getByRole('listitem')).toHaveCount(2);
});

test('the tone of a step is saved for a stick or disc', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'gain:bass');
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'WAV' }).click()]);
  expect(file.suggestedFilename()).toBe('01-sine-40-hz-minus-3-dbfs.wav');
  const bytes = await readFile(await file.path());
  // Twenty seconds, 44.1 kHz, two sides of two bytes, behind a header of 44.
  expect(bytes.length).toBe(44 + 20 * 44_100 * 4);
  expect(bytes.subarray(0, 12).toString('latin1')).toMatch(/^RIFF....WAVE$/s);
});

test('a clean and a clipped capture are told apart, with what to do', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'proof:bass');
  const verdict = page.getByTestId('verdict');
  await page.locator('body').press('b');
  const loaded = await turnKnobTo(page, 15.2);
  await typeReading(page, loaded);
  await expect(verdict).toContainText('No capture yet');
  await dropCapture(page, await saveCapture(page));
  await expect(verdict).toContainText('The output is clean under load');
  await seeTo(page);
  await expect(page.getByRole('main').getByText('Done', { exact: true })).toBeVisible();

  await page.getByLabel('Gain knob').fill('0.8');
  await dropCapture(page, await saveCapture(page));
  await expect(verdict).toContainText('The output clips under load');
  await expect(verdict).toContainText(/Turn the gain down [\d.]+\sdB or more/);
  await expect(page.getByRole('listitem').filter({ hasText: 'bass-loaded.csv' })).toHaveCount(2);
  // What the next test opens in a browser of its own has to be on the server first.
  await expect(page.getByText(/^Saving|kept in this browser/)).toHaveCount(0);
});

test('the trace view shows figures, waveform and spectrum, and zooms by key', async ({ page }) => {
  await openStep(page, 'Mobile library bus', 'proof:bass');
  await page.getByRole('link', { name: 'Look' }).first().click();
  await expect(page.getByTestId('trace-verdict')).toHaveText('Clipped');
  const canvas = page.getByRole('img', { name: 'Waveform of CH1' });
  await expect(canvas).toHaveAttribute('data-drawn', /./);
  const before = await canvas.getAttribute('data-drawn');
  await page.locator('body').press('+');
  await expect(canvas).not.toHaveAttribute('data-drawn', before ?? '');
  await expect(page.locator('.apexcharts-line-series, .apexcharts-series').first()).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Original file' }).click()]);
  expect(file.suggestedFilename()).toBe('bass-loaded.csv');
});

test('all of it is there again after the server was restarted', async ({ page, app }) => {
  await app.restartServer();
  await openStep(page, 'Mobile library bus', 'gain:bass');
  // The clean proof has shown what the load takes off: the target without load counts it in.
  await expect(page.getByTestId('verdict')).toContainText(/Under load the voltage drops/);
  await expect(page.getByRole('checkbox', { name: 'volume at 34' })).toBeChecked();
  await openStep(page, 'Mobile library bus', 'proof:bass');
  await expect(page.getByTestId('verdict')).toContainText('clips under load');
  await expect(page.getByRole('listitem').filter({ hasText: 'bass-loaded.csv' })).toHaveCount(2);
});

test('a new tune goes from nothing to a first target', async ({ page }) => {
  await loadDemo(page);
  await page.getByRole('button', { name: 'New tune' }).click();
  await page.getByLabel('Name of the job').fill('Ice-cream tricycle');
  await page.getByRole('button', { name: 'Start' }).click();
  await page.getByRole('button', { name: 'Add amplifier' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Amplifier', { exact: true }).fill('Two-channel, 2 × 50 W');
  await dialog.getByLabel(/^Lowest load, stereo/).fill('2');
  await dialog.getByLabel('Power a channel').fill('50 W');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'Add channel' }).click();
  await dialog.getByLabel('Channel', { exact: true }).fill('Bell side');
  await dialog.getByLabel('Terminals').fill('Left');
  await dialog.getByLabel('Load of the wiring').fill('4 ohm');
  await dialog.getByLabel('Driver', { exact: true }).fill('Horn 100 mm');
  await dialog.getByLabel('Rated power').fill('60');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('main').getByRole('link', { name: 'Bell side' }).click();
  // sqrt(50 W × 4 ohm)
  await expect(page.getByText(/^14\.1\s?V$/)).toBeVisible();
  // A new tune starts with a usual meter, and with a tone that this one reads well: the two do not quarrel.
  await expect(page.getByText(/^400\sHz$/).first()).toBeVisible();
  await expect(page.getByTestId('verdict')).not.toContainText('but the meter is only accurate to');
});

test('a trial of three recorded levels says what each costs, and the one that is kept is on the record', async ({ page }) => {
  await openStep(page, 'Driving-school car', 'gain:right');
  await page.getByRole('button', { name: 'Try recorded levels' }).click();
  const trial = page.getByRole('dialog');
  await expect(trial.getByRole('listitem').filter({ hasText: '0 dBFS' }).first()).toContainText('Nothing is cut.');
  // Ten decibels over: flat from asin(10^(−10/20)) on, by hand.
  await expect(trial.getByText('Full-scale peaks are flat for 80 % of their time', { exact: false })).toBeVisible();
  await trial.getByRole('listitem').filter({ hasText: '−5.0 dBFS' }).getByRole('button', { name: 'Keep this one' }).click();
  await expect(trial).toBeHidden();
  await expect(page.getByTestId('verdict')).toContainText('recorded level was 0.0');
  await page.getByRole('link', { name: 'History' }).click();
  await page.getByText('What changed').first().click();
  await expect(page.getByRole('main')).toContainText(/overlap/i);
});
