import { describe, expect, it } from 'vitest';
import {
  loadImpedanceAt,
  loadTaken,
  lowestImpedance,
  readImpedanceTable,
  type ChannelImpedance,
  type ImpedanceRow,
} from './channelImpedance.ts';

const ROWS: ImpedanceRow[] = [
  { frequencyHz: 20, ohm: 8, phaseDeg: 40 },
  { frequencyHz: 40, ohm: 24, phaseDeg: 0 },
  { frequencyHz: 160, ohm: 3.5, phaseDeg: -20 },
];
const TABLE: ChannelImpedance = { kind: 'table', rows: ROWS };

describe('the impedance of a load', () => {
  it('runs straight over log frequency between its rows, and is unknown outside of them', () => {
    expect(loadImpedanceAt(TABLE, 40)).toEqual({ ohm: 24, phaseDeg: 0 });
    // 80 Hz lies halfway between 40 and 160 Hz.
    expect(loadImpedanceAt(TABLE, 80)!.ohm).toBeCloseTo((24 + 3.5) / 2, 9);
    expect(loadImpedanceAt(TABLE, 80)!.phaseDeg).toBeCloseTo(-10, 9);
    expect([loadImpedanceAt(TABLE, 19), loadImpedanceAt(TABLE, 161)]).toEqual([undefined, undefined]);
  });
  it('takes less than planned where it rises: 20 V at 24 ohm are 16.7 W, at nominal 4 ohm 100 W', () => {
    const taken = loadTaken(TABLE, 40, 4, 20)!;
    expect(taken).toMatchObject({ ohm: 24, riseRatio: 6, isApparent: false });
    expect(taken.powerWatt).toBeCloseTo(400 / 24, 9);
    expect(loadTaken(TABLE, 20, 4, 20)!.powerWatt).toBeCloseTo(50 * Math.cos((40 * Math.PI) / 180), 9);
    const bare: ChannelImpedance = { kind: 'table', rows: ROWS.map(({ frequencyHz, ohm }) => ({ frequencyHz, ohm })) };
    expect(loadTaken(bare, 20, 4, 20)).toMatchObject({ powerWatt: 50, isApparent: true });
  });
  it('knows its lowest point, of a model too: above the peak a driver nears its coil', () => {
    expect(lowestImpedance(TABLE, 20, 160)).toEqual({ hertz: 160, ohm: 3.5 });
    const model: ChannelImpedance = { kind: 'model', driver: { dcOhm: 3.4, resonanceHz: 30, qMechanical: 5, qElectrical: 0.5 } };
    expect(lowestImpedance(model, 20, 200)!.ohm).toBeGreaterThan(3.4);
    expect(lowestImpedance(model, 20, 200)!.ohm).toBeLessThan(3.6);
    expect(loadImpedanceAt(model, 30)!.ohm).toBeCloseTo(3.4 * 11, 6);
  });
  it.each([
    ['20 8 40\n40 24 0\n160 3.5 -20', 'spaces'],
    ['Hz, ohm, deg\n20, 8, 40\n40, 24, 0\n160, 3.5, -20', 'commas and a heading'],
    ['* made at home\n20;8,0;40\n40;24;0\n160;3,5;-20\n', 'semicolons and decimal commas'],
    ['20\t8,0\t40\r\n40\t24\t0\r\n\r\n160\t3,5\t-20', 'tabs'],
  ])('is read from a pasted table: %#', (text) => {
    expect(readImpedanceTable(text)).toEqual({ rows: ROWS, faults: [] });
  });
  it.each([
    ['20 8\n40 24\n30 9', 'Line 3: 30 Hz after 40 Hz'],
    ['20 8\n40\n80 9', 'Line 2: enter a frequency and ohms'],
    ['20 8\n40 -3\n80 9', 'Line 2: frequency and ohms must be above 0'],
    ['20 8 120\n40 3\n80 9', 'Line 1: degrees'],
    ['20 8', '3 lines at least'],
    ['', '3 lines at least'],
  ])('is refused with the line that is wrong: %#', (text, words) => {
    expect(readImpedanceTable(text).faults[0]!.message).toContain(words);
  });
});
