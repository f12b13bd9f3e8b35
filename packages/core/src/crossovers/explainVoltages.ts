import { formatQuantity, plainFigure } from '../units/formatQuantity.ts';
import { filterAt } from './crossoverResponse.ts';
import type { CrossoverFitInput } from './crossoverFit.ts';
import { ordersOf, type Filter } from './filters.ts';

export type SuspectCause = 'multiplier' | 'off' | 'other-kind' | 'other-slope';

/** A setting other than the intended one that the voltages would follow from. */
export interface SuspectSetting {
  cause: SuspectCause;
  words: string;
  /** what the filter would be then; none where it is off */
  filter?: Filter;
  residualDb: number;
}

/** A setting explains voltages that it misses by no more than careful reading does, a dial's own tolerance counted in. */
const EXPLAINS_DB = 0.6;
/** The intended setting is beyond doubt below this. */
const FINE_DB = 0.6;
/** A dial is seldom right to more than this. */
const DIAL_TOLERANCE = 0.15;

/**
 * Which mistakes at the gear would give these voltages: the switch at another multiplier, the filter switched off, high-pass for
 * low-pass, another slope.
 *
 * @returns what fits, best first; empty where the intended setting itself fits
 */
export function explainVoltages(
  intended: Filter,
  points: CrossoverFitInput['points'],
  switches: { multiplier: number; multipliers: readonly number[] } = { multiplier: 1, multipliers: [1] },
): SuspectSetting[] {
  if (points.length < 3 || points.some(({ voltageRms }) => voltageRms <= 0)) return [];
  if (leastResidualDb(intended, points) <= FINE_DB) return [];
  const suspects: Omit<SuspectSetting, 'residualDb'>[] = [
    ...switches.multipliers
      .filter((multiplier) => multiplier !== switches.multiplier)
      .map((multiplier): Omit<SuspectSetting, 'residualDb'> => {
        const cornerHz = (intended.cornerHz * multiplier) / switches.multiplier;
        return {
          cause: 'multiplier',
          words: `the multiplier switch is at ×${plainFigure(multiplier)}, not ×${plainFigure(switches.multiplier)}: ${formatQuantity(cornerHz, 'Hz')} instead of ${formatQuantity(intended.cornerHz, 'Hz')}`,
          filter: { ...intended, cornerHz },
        };
      }),
    { cause: 'off', words: 'the filter is switched off, or another channel’s was set' },
    {
      cause: 'other-kind',
      words: `the switch is at ${intended.kind === 'highpass' ? 'low-pass' : 'high-pass'}`,
      filter: { ...intended, kind: intended.kind === 'highpass' ? 'lowpass' : 'highpass' },
    },
    ...ordersOf(intended.family)
      .filter((order) => order === 2 * intended.order || 2 * order === intended.order)
      .map((order): Omit<SuspectSetting, 'residualDb'> => ({
        cause: 'other-slope',
        words: `the slope is at ${6 * order} dB per octave, not ${6 * intended.order}`,
        filter: { ...intended, order },
      })),
  ];
  return suspects
    .map((suspect): SuspectSetting => ({ ...suspect, residualDb: leastResidualDb(suspect.filter, points) }))
    .filter(({ residualDb }) => residualDb <= EXPLAINS_DB)
    .sort((a, b) => a.residualDb - b.residualDb);
}

/** What a filter leaves of the voltages at best, its level free and its dial a little off; without a filter, a flat line. */
function leastResidualDb(filter: Filter | undefined, points: CrossoverFitInput['points']): number {
  const steps = 12;
  const residuals = Array.from({ length: 2 * steps + 1 }, (_, i) => {
    const factor = (1 + DIAL_TOLERANCE) ** ((i - steps) / steps);
    const rest = points.map(
      ({ frequencyHz, voltageRms }) =>
        20 * Math.log10(voltageRms) -
        (filter === undefined ? 0 : filterAt({ ...filter, cornerHz: filter.cornerHz * factor }, frequencyHz).db),
    );
    const mean = rest.reduce((sum, db) => sum + db, 0) / rest.length;
    return Math.sqrt(rest.reduce((sum, db) => sum + (db - mean) ** 2, 0) / rest.length);
  });
  return Math.min(...residuals);
}
