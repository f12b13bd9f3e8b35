import type { DriverSpec } from './drivers.ts';
import { driverLetter } from './drivers.ts';
import { LOAD_SLACK } from './hookup.ts';
import { loadOptions, MAX_DRIVERS } from './loadOptions.ts';

/** Drivers that would give the wished load with every coil at the same power. */
export interface Purchase {
  count: number;
  coils: 1 | 2 | 4;
  coilOhm: number;
  network: string;
  /** such as "2 drivers of two 4 Ω coils" */
  words: string;
}

/** Coil impedances that shops have. Common practice, no source. */
const STOCK_OHM: readonly number[] = [1, 2, 4, 8];
const MAX_SUGGESTIONS = 4;

/**
 * What to buy for a load that the drivers at hand cannot give: first the same number of drivers with other coils, then another number.
 *
 * @param wishedOhm - nominal load
 * @returns at most four suggestions; empty where shops have nothing for it
 */
export function whatToBuy(wishedOhm: number, drivers: readonly DriverSpec[]): Purchase[] {
  const counts = [...new Set([drivers.length, drivers.length + 1, drivers.length - 1, 2 * drivers.length])].filter(
    (count) => count >= 1 && count <= MAX_DRIVERS,
  );
  const found: Purchase[] = [];
  for (const count of counts) {
    for (const coils of [2, 1] as const) {
      for (const coilOhm of STOCK_OHM) {
        const specs = Array.from({ length: count }, (_, i) => ({ name: driverLetter(i), coils, coilOhm }));
        const option = loadOptions({ drivers: specs }).options.find(
          ({ balanced, loadOhm }) => balanced && Math.abs(loadOhm / wishedOhm - 1) <= LOAD_SLACK,
        );
        if (option !== undefined)
          found.push({ count, coils, coilOhm, network: option.network, words: purchaseWords(count, coils, coilOhm) });
      }
    }
    if (found.length >= MAX_SUGGESTIONS) break;
  }
  return found.slice(0, MAX_SUGGESTIONS);
}

function purchaseWords(count: number, coils: 1 | 2 | 4, coilOhm: number): string {
  const of = coils === 1 ? `one ${coilOhm} Ω coil` : `two ${coilOhm} Ω coils`;
  return `${count === 1 ? 'one driver' : `${count} drivers`} of ${of}${count === 1 ? '' : ' each'}`;
}
