import type { Channel } from '../../job/chain.ts';
import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import { lossDb, type ProvedFilters } from '../../ways/driverGroups.ts';
import { drivenVolt, knobVolt, type BandLook } from './bandLooks.ts';
import { loadedReadings, settingReadings } from './gainReadings.ts';
import { shapeBefore } from './sourceSweeps.ts';
import { markAt, stepId, type Situation } from './situation.ts';

/** What a load takes off at one tone and not at another, and a scope's own error. Common practice, no source. */
const EVEN_DB = 1.2;
/** What a flattened wave was driven to is told from its rails, and not as well. */
const FLATTENED_EVEN_DB = 2;
/** A dial that is a little off moves a tone beside its corner. Common practice, no source. */
const DIAL_OFF = 1.1;

/** A tone that lies further from the others than the filters explain. */
export interface Uneven {
  /** lifted above 0, cut below, in dB */
  byDb: number;
  /** the tick that says that it is meant */
  checkId: string;
  isMeant: boolean;
}

/**
 * How far a tone of a channel's range lies from what the newest reading of the gain's own tone and the filters make of it. Of a wave that is
 * held at its rails that is what it was driven to, and only a lift is told of it.
 *
 * @returns in dB; undefined where the gain's tone was not read under load before it
 */
export function apartAt(now: Situation, channel: Channel, { shown, toneHz, trace }: BandLook, proved: ProvedFilters): number | undefined {
  const newest = settingReadings(now, channel).findLast(({ takenAt }) => takenAt <= trace.takenAt);
  const loaded = loadedReadings(now, channel.id).findLast(
    (reading) => newest !== undefined && reading.takenAt >= newest.takenAt && reading.takenAt <= trace.takenAt,
  );
  const read = loaded ?? (newest?.conditions.load === 'on' ? newest : undefined);
  if (read === undefined || read.value <= 0) return undefined;
  const shapeDb = shapeBefore(now, channel);
  const { sourceVolume } = trace.conditions;
  const ownDb = shapeDb(toneHz, sourceVolume) - shapeDb(read.conditions.toneHz, sourceVolume);
  const likelyVolt = knobVolt(read) * voltageFactor(trace.conditions.toneLevelDbfs + lossDb(channel, toneHz, proved) + ownDb);
  const apartDb = voltageRatioDb(drivenVolt(shown), likelyVolt);
  const spreadDb = Math.max(
    ...[DIAL_OFF, 1 / DIAL_OFF].map((factor) => Math.abs(lossDb(channel, toneHz * factor, proved) - lossDb(channel, toneHz, proved))),
  );
  const own = Math.max(0, Math.abs(apartDb) - spreadDb);
  return shown.clipping.verdict !== 'clean' && apartDb < 0 ? 0 : Math.sign(apartDb) * own;
}

/** Whether a tone is lifted or cut by something that nobody spoke of, or that was ticked as meant; undefined where it is neither. */
export function unevenAt(now: Situation, channel: Channel, look: BandLook, proved: ProvedFilters): Uneven | undefined {
  const byDb = apartAt(now, channel, look, proved);
  const evenDb = look.shown.clipping.estimatedOverdriveDb === undefined ? EVEN_DB : FLATTENED_EVEN_DB;
  if (byDb === undefined || Math.abs(byDb) <= evenDb) return undefined;
  const ticked = markAt(now, stepId('bandwidth', channel.id))?.checks ?? [];
  const meantId = ticked.find((id) => isMeantBy(id, look.toneHz, byDb));
  return { byDb, isMeant: meantId !== undefined, checkId: meantId ?? meantCheckId(look.toneHz, byDb) };
}

/** A tick stands for one tone and its lift or cut: what is further off later was not meant. */
const meantCheckId = (toneHz: number, byDb: number): string =>
  `meant-${Math.round(toneHz)}-${byDb < 0 ? 'cut' : 'lift'}-${Math.abs(byDb).toFixed(1)}`;
const MEANT_WITHIN_DB = 1;

function isMeantBy(id: string, toneHz: number, byDb: number): boolean {
  const [, hertz, way, db] = /^meant-(\d+)-(cut|lift)-([\d.]+)$/.exec(id) ?? [];
  return (
    Number(hertz) === Math.round(toneHz) && way === (byDb < 0 ? 'cut' : 'lift') && Math.abs(Number(db) - Math.abs(byDb)) <= MEANT_WITHIN_DB
  );
}
