import type { OwnerSheet, SheetChannel, SheetVolume } from './ownerSheet.ts';

/** One line that two sheets say otherwise. */
export interface SheetChange {
  what: string;
  /** empty where the older one does not have it */
  before: string;
  /** empty where the newer one does not have it */
  after: string;
}

const CHANNEL_WORDS: Readonly<Record<Exclude<keyof SheetChannel, 'name'>, string>> = {
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
  });
  const leftAlone = ({ leaveAlone }: OwnerSheet): { name: string; why: string }[] =>
    leaveAlone.map(({ what, why }) => ({ name: what, why }));
  byName(leftAlone(older), leftAlone(newer), (name, before, after) => say(`Leave alone: ${name}`, before?.why ?? '', after?.why ?? ''));
  for (const words of older.open) if (!newer.open.includes(words)) say('Still open', words, '');
  for (const words of newer.open) if (!older.open.includes(words)) say('Still open', '', words);
  return changes;
}

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
