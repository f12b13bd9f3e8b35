import type { OwnerSheet, SheetChannel, SheetVolume } from './ownerSheet.ts';
import { responseWords } from './responsePicture.ts';
import type { SheetReading } from './sheetReadings.ts';
import type { SheetWiring } from './wiringPicture.ts';

/** One line that two sheets say otherwise. */
export interface SheetChange {
  what: string;
  /** empty where the older one does not have it */
  before: string;
  /** empty where the newer one does not have it */
  after: string;
}

const CHANNEL_WORDS: Readonly<Record<Exclude<keyof SheetChannel, 'name' | 'wiring'>, string>> = {
  amplifier: 'amplifier',
  terminals: 'terminals',
  load: 'load',
  drivers: 'drivers',
  set: 'set to',
  delivered: 'delivers',
  before: 'delivered before',
  filters: 'filters',
  polarity: 'polarity',
  delay: 'delay',
  equaliser: 'equaliser',
  clean: 'proof',
};

/** What makes one sheet another one; empty where a new issue would say the same. The day on which it was made is no difference. */
export function sheetChanges(older: OwnerSheet, newer: OwnerSheet): SheetChange[] {
  const changes: SheetChange[] = [];
  const say = (what: string, before: string, after: string): void => {
    if (before !== after) changes.push({ what, before, after });
  };
  say('Job', older.job, newer.job);
  say('Vehicle', older.vehicle, newer.vehicle);
  say('Source', older.system.source, newer.system.source);
  say('Settings of the source', older.system.settings, newer.system.settings);
  say('Processor', older.system.processor, newer.system.processor);
  byName(older.system.levels, newer.system.levels, (name, before, after) => say(`Level of ${name}`, before?.set ?? '', after?.set ?? ''));
  byName(older.volumes, newer.volumes, (name, before, after) => say(`Never louder than, ${name}`, volumeWords(before), volumeWords(after)));
  byName(older.channels, newer.channels, (name, before, after) => {
    if (before === undefined || after === undefined) say(name, before?.drivers ?? '', after?.drivers ?? '');
    else
      for (const [field, words] of Object.entries(CHANNEL_WORDS) as [keyof typeof CHANNEL_WORDS, string][])
        say(`${name}, ${words}`, before[field], after[field]);
    // Older sheets do not hold it.
    if (before?.wiring !== undefined && after?.wiring !== undefined)
      say(`${name}, wires`, wireWords(before.wiring), wireWords(after.wiring));
  });
  if (older.responses !== undefined && newer.responses !== undefined)
    byName(older.responses, newer.responses, (name, before, after) =>
      say(`Response of ${name}`, before === undefined ? '' : responseWords(before), after === undefined ? '' : responseWords(after)),
    );
  if (older.readings !== undefined && newer.readings !== undefined) say('Readings', countWords(older.readings), countWords(newer.readings));
  const leftAlone = ({ leaveAlone }: OwnerSheet): { name: string; why: string }[] =>
    leaveAlone.map(({ what, why }) => ({ name: what, why }));
  byName(leftAlone(older), leftAlone(newer), (name, before, after) => say(`Leave alone: ${name}`, before?.why ?? '', after?.why ?? ''));
  for (const words of older.open) if (!newer.open.includes(words)) say('Still open', words, '');
  for (const words of newer.open) if (!older.open.includes(words)) say('Still open', '', words);
  return changes;
}

const wireWords = ({ wires }: SheetWiring): string => wires.map(({ from, to }) => `${from} to ${to}`).join(', ');

const countWords = (readings: readonly SheetReading[]): string => {
  const last = readings.reduce((latest, { at }) => (at > latest ? at : latest), '');
  return `${readings.length}${last === '' ? '' : `, the last of ${last.slice(0, 10)}`}`;
};

const volumeWords = (volume: SheetVolume | undefined): string =>
  volume === undefined
    ? ''
    : volume.step === undefined
      ? 'not measured'
      : `${volume.step} of ${volume.of}${volume.isAssumed ? ', assumed' : ''}`;

/** Things that are called alike, side by side: those of the older one first. */
function byName<T extends { name: string }>(
  older: readonly T[],
  newer: readonly T[],
  each: (name: string, before: T | undefined, after: T | undefined) => void,
): void {
  const names = [...new Set([...older, ...newer].map(({ name }) => name))];
  for (const name of names) {
    each(
      name,
      older.find((one) => one.name === name),
      newer.find((one) => one.name === name),
    );
  }
}
