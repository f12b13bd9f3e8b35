import type { Finding } from '../../../findings.ts';
import type { LoadReading } from '../../../job/records.ts';
import { voltageRatioDb } from '../../../levels/decibels.ts';
import { signedDb } from '../../../units/formatQuantity.ts';
import { filterLoss } from '../../../ways/filterLoss.ts';
import { provedNow, type ChannelNow } from '../../frame/channels.ts';
import { readingsAt, stepId, type Situation } from '../../frame/situation.ts';
import { shapeBefore } from '../../frame/sourceSweeps.ts';

/** One voltage at another tone, at the knob that the gain was set with. */
export interface ToneRowEntry {
  toneHz: number;
  voltageRms: number;
  /** against the tone that set the gain */
  differenceDb: number;
  /** what the filters of the chain explain of that */
  filtersDb: number;
  /** what they do not */
  restDb: number;
  laidTo: 'filters' | 'meter' | 'amplifier';
}

/** Two readings of one meter agree to this beside its last digits. Common practice, no source. */
const AGREES_DB = 0.2;

/**
 * The voltages at other tones with one gain, lowest tone first, each explained: by the filters that stand in the chain, by the meter where
 * the tone lies beyond what it is good for, else by the amplifier.
 *
 * @param set - the reading that set the gain; what was read before it is of another knob and left out
 */
export function toneRow(step: ChannelNow, set: LoadReading, now: Situation): ToneRowEntry[] {
  const { channel, loss } = step;
  const proved = provedNow(now);
  const shapeDb = shapeBefore(now, channel);
  const newest = new Map<number, LoadReading>();
  for (const reading of readingsAt(now, stepId('gain', channel.id), 'tone-voltage', 'load')) {
    if (reading.takenAt >= set.takenAt && reading.value > 0 && isSameHookup(reading, set)) newest.set(reading.conditions.toneHz, reading);
  }
  return [...newest]
    .sort(([a], [b]) => a - b)
    .map(([toneHz, { value, conditions }]) => {
      const levelDb = conditions.toneLevelDbfs - set.conditions.toneLevelDbfs;
      const differenceDb = voltageRatioDb(value, set.value) - levelDb;
      const { sourceVolume } = set.conditions;
      const ownDb = shapeDb(toneHz, sourceVolume) - shapeDb(set.conditions.toneHz, sourceVolume);
      const filtersDb = filterLoss(channel, toneHz, proved).db - loss.db + ownDb;
      const restDb = differenceDb - filtersDb;
      const { highestHz, lowestHz = 0 } = now.settings.meter;
      const isBeyond = [toneHz, set.conditions.toneHz].some((hertz) => hertz > highestHz || hertz < lowestHz);
      const laidTo = Math.abs(restDb) <= AGREES_DB ? 'filters' : isBeyond ? 'meter' : 'amplifier';
      return { toneHz, voltageRms: value, differenceDb, filtersDb, restDb, laidTo };
    });
}

const isSameHookup = ({ conditions: one }: LoadReading, { conditions: other }: LoadReading): boolean =>
  one.load === other.load &&
  one.amplifierId === other.amplifierId &&
  one.sourceId === other.sourceId &&
  one.sourceVolume === other.sourceVolume;

/** What a voltage at another tone says. */
export function toneRowWords({ differenceDb, filtersDb, restDb, laidTo }: ToneRowEntry): string {
  const filters =
    Math.abs(filtersDb) < 0.05 ? 'the filters let both tones through alike' : `the filters account for ${signedDb(filtersDb)}`;
  if (laidTo === 'filters') return Math.abs(differenceDb) <= AGREES_DB ? 'As the tone that set the gain.' : `As it should be: ${filters}.`;
  if (laidTo === 'meter')
    return `Cannot say: ${filters}, and this tone is beyond what the meter is good for. What is left, ${signedDb(restDb)}, may be the meter alone.`;
  return restDb > 0
    ? `${signedDb(restDb)} more than the chain explains (${filters}): a bass boost or tone control at the amplifier is on.`
    : `${signedDb(restDb)} that the chain does not explain (${filters}): a subsonic or other filter at the amplifier that is not in the chain, or the voltage gave way.`;
}

/** A boost that nobody knows of is louder than the tone that set the gain: full-scale music clips there. */
export function toneRowFindings(step: ChannelNow, set: LoadReading, now: Situation): Finding[] {
  return toneRow(step, set, now)
    .filter(({ laidTo }) => laidTo === 'amplifier')
    .map((entry) => ({
      code: entry.restDb > 0 ? 'tone-boosted' : 'tone-lost',
      grade: entry.restDb > 0 ? 'attention' : 'note',
      figures: {
        toneHz: entry.toneHz,
        differenceDb: entry.differenceDb,
        filtersDb: entry.filtersDb,
        restDb: entry.restDb,
        cause: toneRowWords(entry),
      },
    }));
}
