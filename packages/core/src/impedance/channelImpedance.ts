import type { Fault } from '../coreError.ts';
import { figuresOfLine } from '../units/figuresOfLine.ts';
import { driverImpedance, type DriverModel, type Enclosure } from './driverImpedance.ts';

/** One row of a measured impedance. */
export interface ImpedanceRow {
  frequencyHz: number;
  ohm: number;
  /** positive where the current lags; left out where only the size was measured */
  phaseDeg?: number;
}

/** What a channel's whole load presents at its terminals: measured elsewhere, or made up of a driver's small-signal figures. */
export type ChannelImpedance = { kind: 'table'; rows: ImpedanceRow[] } | { kind: 'model'; driver: DriverModel; enclosure?: Enclosure };

export interface ImpedanceAt {
  ohm: number;
  phaseDeg: number | undefined;
}

/** The impedance at one frequency; undefined where the table does not reach. Between rows it runs straight over log frequency. */
export function loadImpedanceAt(impedance: ChannelImpedance, hertz: number): ImpedanceAt | undefined {
  if (impedance.kind === 'model') {
    const { magnitudeOhm, phaseDeg } = driverImpedance({ ...impedance, frequenciesHz: [hertz] });
    return { ohm: magnitudeOhm[0]!, phaseDeg: phaseDeg[0]! };
  }
  const { rows } = impedance;
  const at = rows.findIndex(({ frequencyHz }) => frequencyHz >= hertz);
  const above = rows[at];
  if (above === undefined) return undefined;
  if (above.frequencyHz === hertz) return { ohm: above.ohm, phaseDeg: above.phaseDeg };
  const below = rows[at - 1];
  if (below === undefined) return undefined;
  const share = Math.log(hertz / below.frequencyHz) / Math.log(above.frequencyHz / below.frequencyHz);
  const between = (a: number, b: number): number => a + share * (b - a);
  return {
    ohm: between(below.ohm, above.ohm),
    phaseDeg: below.phaseDeg === undefined || above.phaseDeg === undefined ? undefined : between(below.phaseDeg, above.phaseDeg),
  };
}

/** What a load takes of a voltage at one frequency. */
export interface LoadTaken {
  ohm: number;
  /** against the nominal load; above 1 it takes less than planned */
  riseRatio: number;
  currentAmpere: number;
  /** real power; apparent where the phase is not known */
  powerWatt: number;
  isApparent: boolean;
}

export function loadTaken(impedance: ChannelImpedance, hertz: number, nominalOhm: number, voltageRms: number): LoadTaken | undefined {
  const at = loadImpedanceAt(impedance, hertz);
  if (at === undefined) return undefined;
  const apparent = voltageRms ** 2 / at.ohm;
  return {
    ohm: at.ohm,
    riseRatio: at.ohm / nominalOhm,
    currentAmpere: voltageRms / at.ohm,
    powerWatt: at.phaseDeg === undefined ? apparent : apparent * Math.cos((at.phaseDeg * Math.PI) / 180),
    isApparent: at.phaseDeg === undefined,
  };
}

const POINTS_PER_OCTAVE = 24;

/** The impedance over a range, even in log frequency, as far as it is known there. */
export function impedanceCurve(impedance: ChannelImpedance, fromHz: number, toHz: number): { hertz: number; ohm: number }[] {
  const count = Math.ceil(POINTS_PER_OCTAVE * Math.log2(toHz / fromHz));
  return Array.from({ length: count + 1 }, (_, k) => fromHz * (toHz / fromHz) ** (k / count)).flatMap((hertz) => {
    const at = loadImpedanceAt(impedance, hertz);
    return at === undefined ? [] : [{ hertz, ohm: at.ohm }];
  });
}

/** The lowest impedance within a range; undefined where nothing of it is known. */
export const lowestImpedance = (impedance: ChannelImpedance, fromHz: number, toHz: number): { hertz: number; ohm: number } | undefined => {
  const own = impedance.kind === 'table' ? impedance.rows.map(({ frequencyHz, ohm }) => ({ hertz: frequencyHz, ohm })) : [];
  const all = [...impedanceCurve(impedance, fromHz, toHz), ...own.filter(({ hertz }) => hertz >= fromHz && hertz <= toHz)];
  return all.length === 0 ? undefined : all.reduce((least, each) => (each.ohm < least.ohm ? each : least));
};

const MIN_ROWS = 3;

/**
 * Reads a pasted table: frequency, ohms and, where there are any, degrees in each line; commas, semicolons, tabs or spaces between them,
 * decimal commas where the columns are parted otherwise. Lines that begin with something else than a figure are remarks.
 *
 * @returns the rows, or what is wrong with which line
 */
export function readImpedanceTable(text: string): { rows: ImpedanceRow[]; faults: Fault[] } {
  const rows: ImpedanceRow[] = [];
  const faults: Fault[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    const figures = figuresOfLine(line);
    if (figures.length === 0) return;
    const [frequencyHz = NaN, ohm = NaN, phaseDeg] = figures;
    const wrong = rowFault(frequencyHz, ohm, phaseDeg, rows.at(-1)?.frequencyHz);
    if (wrong === undefined) rows.push({ frequencyHz, ohm, ...(phaseDeg === undefined ? {} : { phaseDeg }) });
    else faults.push({ pointer: `/${i}`, message: `Line ${i + 1}: ${wrong}` });
  });
  if (faults.length === 0 && rows.length < MIN_ROWS)
    faults.push({ pointer: '', message: `${MIN_ROWS} lines at least: frequency and ohms in each.` });
  return { rows, faults };
}

/** What is wrong with a row, in words; undefined where it is good. */
function rowFault(frequencyHz: number, ohm: number, phaseDeg: number | undefined, beforeHz: number | undefined): string | undefined {
  if ([frequencyHz, ohm, phaseDeg ?? 0].some(Number.isNaN)) return 'enter a frequency and ohms, then degrees if known.';
  if (!(frequencyHz > 0 && ohm > 0)) return 'frequency and ohms must be above 0.';
  if (Math.abs(phaseDeg ?? 0) > 90) return 'degrees must be between −90 and 90.';
  return beforeHz !== undefined && frequencyHz <= beforeHz ? `${frequencyHz} Hz after ${beforeHz} Hz: frequencies must rise.` : undefined;
}
