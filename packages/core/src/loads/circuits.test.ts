// Held against ngspice 39, which knows nothing of these formulas: decks and results in ../../test/reference,
// made by make_reference.py. Tolerance: 2e-6, the rounding of the simulator's printed figures.
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { LoadCoil } from './drivers.ts';
import { loadNetwork } from './loadNetwork.ts';
import { parseNetwork } from './network.ts';
import { readWiring } from './readWiring.ts';
import { joinsOf, type Join } from './wiring.ts';

interface NetworkCase {
  name: string;
  network: string;
  voltageRms: number;
  coils: Record<string, { nominalOhm: number; dcOhm: number }>;
  seriesResistorOhm?: number;
  resistorWatt?: number;
  loadOhm: number;
  dcOhm: number;
  watts: Record<string, number>;
}
interface BridgeCase {
  ohms: Record<string, number>;
  loadOhm: number;
  acrossVolt: number;
}

const reference = JSON.parse(readFileSync(new URL('../../test/reference/results/networks.json', import.meta.url), 'utf8')) as {
  networks: NetworkCase[];
  bridges: BridgeCase[];
};
const near = (got: number, wanted: number, relative = 2e-6): void => expect(Math.abs(got / wanted - 1)).toBeLessThan(relative);
const asCoils = (ohms: Record<string, number>): LoadCoil[] =>
  Object.entries(ohms).map(([name, nominalOhm]) => ({ name, driver: name.charAt(0), nominalOhm }));

describe('networks against the circuit simulator', () => {
  it.each(reference.networks)('$name: $network', ({ network, coils, voltageRms, seriesResistorOhm, resistorWatt, ...wanted }) => {
    const given = { network, coils, voltageRms, ...(seriesResistorOhm === undefined ? {} : { seriesResistorOhm }) };
    const result = loadNetwork(given);
    near(result.loadOhm, wanted.loadOhm);
    near(result.dcOhm, wanted.dcOhm);
    for (const [name, watt] of Object.entries(wanted.watts)) near(result.coils[name]!.powerWatt!, watt);
    if (resistorWatt !== undefined) near(result.resistor!.powerWatt!, resistorWatt);
  });

  it.each(reference.networks)('$name, drawn wire by wire', ({ network, coils, seriesResistorOhm = 0, loadOhm, watts }) => {
    const drawn = asCoils(Object.fromEntries(Object.entries(coils).map(([name, { nominalOhm }]) => [name, nominalOhm])));
    const reading = readWiring(drawn, joinsOf(parseNetwork(network, new Set(Object.keys(coils)))));
    near(reading.loadOhm! + seriesResistorOhm, loadOhm);
    const inCoils = Object.values(watts).reduce((a, b) => a + b, 0);
    for (const [name, watt] of Object.entries(watts)) near(reading.shares.get(name)!, watt / inCoils, 5e-6);
  });

  it.each(reference.bridges)('a bridge of $ohms is judged, and called no network', ({ ohms, loadOhm, acrossVolt }) => {
    const joins: Join[] = [
      ['amp+', 'A1+'],
      ['amp+', 'B1+'],
      ['A1-', 'A2+'],
      ['B1-', 'B2+'],
      ['A2-', 'amp-'],
      ['B2-', 'amp-'],
      ['A1-', 'C1+'],
      ['B1-', 'C1-'],
    ];
    const reading = readWiring(asCoils(ohms), joins);
    near(reading.loadOhm!, loadOhm);
    // The share is known to the simulator's seven digits of the voltage across, squared.
    near(reading.shares.get('C1')!, (acrossVolt ** 2 / ohms.C1!) * loadOhm, 1e-4);
    expect(reading.states.get('C1')).toBe(acrossVolt > 0 ? 'works' : 'reversed');
    expect(reading.network).toBeUndefined();
  });
});
