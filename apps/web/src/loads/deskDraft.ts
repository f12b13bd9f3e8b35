import { driverLetter, MAX_DRIVERS, type DriverSpec, type HookupMode, type PlanAmplifier } from '@yield/core';
import { useMemo } from 'react';
import { readQuantity } from '../ui/useDraft.ts';
import { useKept } from '../ui/useKept.ts';

/** Drivers of one kind, as they are typed on the desk. */
export interface DriverRow {
  count: number;
  coils: '1' | '2' | '4';
  coilOhm: string;
  dcOhm: string;
  ratedWatt: string;
}

export interface AmplifierDraft {
  mode: HookupMode;
  terminalPairs: '1' | '2';
  minimumStereo: string;
  minimumBridged: string;
  minimumMono: string;
  ratings: { ohm: string; watt: string }[];
}

const FIRST_DRIVERS: DriverRow[] = [{ count: 2, coils: '2', coilOhm: '4', dcOhm: '', ratedWatt: '300' }];
const FIRST_AMPLIFIER: AmplifierDraft = {
  mode: 'mono',
  terminalPairs: '1',
  minimumStereo: '2',
  minimumBridged: '4',
  minimumMono: '1',
  ratings: [
    { ohm: '4', watt: '250' },
    { ohm: '2', watt: '400' },
    { ohm: '1', watt: '600' },
  ],
};

/** What lies on the desk: drivers and one amplifier, kept over a reload, and read where they can be read. */
export function useDesk() {
  const [keptRows, setRows] = useKept('desk/drivers', readRows);
  const [keptAmplifier, setAmplifier] = useKept('desk/amplifier', readAmplifier);
  return useMemo(() => {
    const rows = keptRows ?? FIRST_DRIVERS;
    const amplifier = keptAmplifier ?? FIRST_AMPLIFIER;
    return {
      rows,
      setRows: (next: DriverRow[]) => setRows(next),
      amplifier,
      setAmplifier: (next: AmplifierDraft) => setAmplifier(next),
      drivers: driversOf(rows),
      planAmplifier: planAmplifierOf(amplifier),
      terminalPairs: amplifier.mode === 'mono' && amplifier.terminalPairs === '2' ? (2 as const) : (1 as const),
    };
  }, [keptRows, keptAmplifier, setRows, setAmplifier]);
}

/** Whether something kept has the same fields as a first one, each of the same type. */
function isLike(kept: unknown, first: object): boolean {
  return (
    typeof kept === 'object' &&
    kept !== null &&
    Object.entries(first).every(([key, value]) => typeof (kept as Record<string, unknown>)[key] === typeof value)
  );
}

export const readRows = (kept: unknown): DriverRow[] | undefined =>
  Array.isArray(kept) && kept.every((row) => isLike(row, FIRST_DRIVERS[0]!)) ? (kept as DriverRow[]) : undefined;

export function readAmplifier(kept: unknown): AmplifierDraft | undefined {
  if (!isLike(kept, FIRST_AMPLIFIER)) return undefined;
  const { ratings } = kept as AmplifierDraft;
  return Array.isArray(ratings) && ratings.every((rating) => isLike(rating, FIRST_AMPLIFIER.ratings[0]!))
    ? (kept as AmplifierDraft)
    : undefined;
}

export type Desk = ReturnType<typeof useDesk>;

/** Rows that cannot be read yet are left out; no more than the planner takes. */
export function driversOf(rows: readonly DriverRow[]): DriverSpec[] {
  return rows
    .flatMap(({ count, coils, coilOhm, dcOhm, ratedWatt }) => {
      const ohm = readQuantity(coilOhm, 'ohm').value;
      if (ohm === undefined) return [];
      const dc = readQuantity(dcOhm, 'ohm').value;
      const watt = readQuantity(ratedWatt, 'W').value;
      const spec = {
        coils: Number(coils) as 1 | 2 | 4,
        coilOhm: ohm,
        ...(dc === undefined ? {} : { coilDcOhm: dc }),
        ...(watt === undefined ? {} : { ratedPowerWatt: watt }),
      };
      return Array.from({ length: count }, () => spec);
    })
    .slice(0, MAX_DRIVERS)
    .map((spec, i) => ({ ...spec, name: driverLetter(i) }));
}

export function planAmplifierOf({ mode, minimumStereo, minimumBridged, minimumMono, ratings }: AmplifierDraft): PlanAmplifier {
  const stereo = readQuantity(minimumStereo, 'ohm').value;
  const bridged = readQuantity(minimumBridged, 'ohm').value;
  const mono = readQuantity(minimumMono, 'ohm').value;
  return {
    mode,
    ratings: ratings.flatMap(({ ohm, watt }) => {
      const loadOhm = readQuantity(ohm, 'ohm').value;
      const powerWatt = readQuantity(watt, 'W').value;
      return loadOhm === undefined || powerWatt === undefined ? [] : [{ mode, loadOhm, powerWatt }];
    }),
    ...(stereo === undefined ? {} : { minimumStereoOhm: stereo }),
    ...(bridged === undefined ? {} : { minimumBridgedOhm: bridged }),
    ...(mono === undefined ? {} : { minimumMonoOhm: mono }),
  };
}
