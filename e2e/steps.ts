import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { expect } from './runningApp.ts';

export async function loadDemo(page: Page): Promise<void> {
  await page.goto('/');
  // The list is asked for first: the demo may be there from an earlier test of the same file.
  await expect(page.getByRole('heading', { name: 'Tunes', exact: true })).toBeVisible();
  const offer = page.getByRole('button', { name: 'Load the demo tunes' });
  await expect(offer.or(page.getByRole('link', { name: 'Mobile library bus', exact: true }))).toBeVisible();
  if (await offer.isVisible()) await offer.click();
  await expect(page.getByRole('link', { name: 'Mobile library bus', exact: true })).toBeVisible();
}

/** Opens a step of a demo tune at once: the way over the list is what `loadDemo` walks. */
export async function openStep(page: Page, tune: string, stepId: string): Promise<void> {
  await page.goto(`${await demoTune(page, tune)}/run/${stepId}`);
  await expect(page.getByTestId('verdict')).toBeVisible();
}

/** The address of a demo tune; the demo is loaded where it is not there yet. */
export async function demoTune(page: Page, name: string): Promise<string> {
  const find = async (): Promise<string | undefined> => {
    const tunes = (await (await page.request.get('/api/v1/tunes')).json()) as { id: string; name: string }[];
    return tunes.find((tune) => tune.name === name)?.id;
  };
  let id = await find();
  if (id === undefined) {
    await page.request.post('/api/v1/demo', { timeout: 60_000 });
    id = await find();
  }
  if (id === undefined) throw new Error(`there is no demo tune “${name}”`);
  return `/tunes/${id}`;
}

/** Types a reading as a tuner does: r, digits, Enter. */
export async function typeReading(page: Page, text: string): Promise<void> {
  await page.keyboard.press('Escape');
  await page.locator('body').press('r');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

/** Ticks all that the step asks to be seen to, by its key. */
export async function seeTo(page: Page): Promise<void> {
  await page.keyboard.press('Escape');
  const first = page.getByRole('main').getByRole('checkbox').first();
  await expect(first).toBeVisible();
  await page.locator('body').press('a');
  // The button alone would be gone as well once it is called something else.
  await expect(first).toBeChecked();
  await expect(page.getByRole('button', { name: /^(Check all|All checked)/ })).toHaveCount(0);
}

/** Turns the simulated knob until the simulated meter shows the voltage, and returns what it shows. */
export async function turnKnobTo(page: Page, wantedVolt: number): Promise<string> {
  const knob = page.getByLabel('Gain knob');
  const display = page.getByLabel('Meter display');
  for (let turn = 0; turn < 12; turn += 1) {
    const shown = Number(await display.textContent());
    if (Math.abs(shown / wantedVolt - 1) < 0.006) break;
    // The demo's knobs spread 20 log10(6 / 0.2) decibels evenly; a tuner would creep up just the same.
    const position = Number(await knob.inputValue()) + Math.log(wantedVolt / shown) / Math.log(30);
    await knob.fill(String(Math.round(Math.max(0, Math.min(1, position)) * 500) / 500));
    await page.waitForTimeout(500);
  }
  return (await display.textContent()) ?? '';
}

/** Saves a capture with the simulated scope and returns the file. */
export async function saveCapture(page: Page): Promise<{ name: string; mimeType: string; buffer: Buffer }> {
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save a scope capture' }).click()]);
  return { name: download.suggestedFilename(), mimeType: 'text/csv', buffer: await readFile(await download.path()) };
}

/** Drops a file on the capture field, as from the desktop. */
export async function dropCapture(page: Page, file: { name: string; mimeType: string; buffer: Buffer }): Promise<void> {
  const data = await page.evaluateHandle(
    ({ name, mimeType, bytes }) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(bytes)], name, { type: mimeType }));
      return transfer;
    },
    { name: file.name, mimeType: file.mimeType, bytes: Array.from(file.buffer) },
  );
  await page.getByText('or drop it here').dispatchEvent('drop', { dataTransfer: data });
}
