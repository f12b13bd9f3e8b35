import type { Page } from '@playwright/test';
import { expect } from './runningApp.ts';
import { demoTune } from './steps.ts';

/** Every main view, with the demo's figures in it. */
export async function views(page: Page): Promise<[string, string][]> {
  const bus = await demoTune(page, 'Mobile library bus');
  const car = await demoTune(page, 'Driving-school car');
  const trailer = await demoTune(page, 'Camper trailer');
  const van = await demoTune(page, 'Puppet theatre van');
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
    ['history', `${bus}/history`],
    ['sheet', `${bus}/sheet`],
    ['findings', `${trailer}/findings`],
    ['polarity', `${bus}/run/polarity:fl`],
    ['delays', `${car}/run/delay:all`],
    ['two channels', '/loads/phase'],
    ['neighbours', `${car}/run/meeting:boot-left`],
    ['response', `${car}/run/response:boot`],
    ['handover', `${car}/run/handover:all`],
    ['gear', '/gear'],
    ['guide', '/guide'],
    ['channel balance', `${car}/run/blend:all`],
    ['listening', `${car}/run/listening:all`],
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
    ...['wiring', 'meter', 'hook-up', 'resistor', 'wire', 'passive', 'loud', 'equaliser'].map((tool): [string, string] => [
      `desk, ${tool}`,
      `/loads/${tool}`,
    ]),
  ];
}
