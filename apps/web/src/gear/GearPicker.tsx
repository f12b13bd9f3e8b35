import type { GearRow } from '@yield/contract';
import type { Driver, PickedGear, TuneSettings } from '@yield/core';
import type { JSX } from 'react';
import { useListGearQuery } from '../api/yieldApi.ts';
import { plainMeter, plainMicrophone } from '../instruments/plain.ts';
import { gearWords } from './gearWords.ts';

type OneOfAKind = Exclude<GearRow['kind'], 'amplifier' | 'driver' | 'dial'>;

/** How many of each piece, by its id; of amplifiers and drivers several. */
export type Picks = Readonly<Record<string, number>>;

const MOST = { amplifier: 8, driver: 8 } as const;

/** Gear of the shop to begin a tune from: how many of each. */
export function GearPicker({ picks, onPick }: { picks: Picks; onPick: (picks: Picks) => void }): JSX.Element {
  const { data: gear = [] } = useListGearQuery();
  if (gear.length === 0) return <p className="text-quiet">No gear is known yet. It comes with the first chain, or under Gear.</p>;
  const one = (kind: OneOfAKind, label: string): JSX.Element | null => {
    const own = gear.filter((row) => row.kind === kind);
    if (own.length === 0 && kind !== 'source' && kind !== 'processor') return null;
    return (
      <label className="block">
        <span className="label mb-1 block">{label}</span>
        <select
          className="select min-h-11 w-full"
          aria-label={label}
          value={own.find(({ id }) => picks[id] !== undefined)?.id ?? ''}
          onChange={(event) => {
            const rest = Object.fromEntries(Object.entries(picks).filter(([id]) => own.every((row) => row.id !== id)));
            onPick(event.target.value === '' ? rest : { ...rest, [event.target.value]: 1 });
          }}
        >
          <option value="">none yet</option>
          {own.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
    );
  };
  const several = (kind: 'amplifier' | 'driver', label: string): JSX.Element => (
    <fieldset>
      <legend className="label mb-1">{label}</legend>
      <ul className="divide-line border-line max-h-56 divide-y overflow-y-auto border-y">
        {gear
          .filter((row) => row.kind === kind)
          .map((row) => (
            <li key={row.id}>
              <label className="flex items-center justify-between gap-3 py-1.5">
                <span className="min-w-0">
                  <span className="block font-medium break-words">{row.name}</span>
                  <span className="text-quiet block text-sm">{gearWords(row)}</span>
                </span>
                <input
                  type="number"
                  className="input min-h-11 w-20"
                  aria-label={`How many of ${row.name}`}
                  min={0}
                  max={MOST[kind]}
                  value={picks[row.id] ?? 0}
                  onChange={(event) => {
                    const count = Math.max(0, Math.min(MOST[kind], Math.round(Number(event.target.value))));
                    const { [row.id]: _old, ...rest } = picks;
                    onPick(count === 0 ? rest : { ...rest, [row.id]: count });
                  }}
                />
              </label>
            </li>
          ))}
      </ul>
    </fieldset>
  );
  return (
    <div className="space-y-4">
      <div className="grid gap-4 sm:grid-cols-2">
        {one('source', 'Source')}
        {one('processor', 'Processor')}
        {one('meter', 'Meter')}
        {one('microphone', 'Microphone')}
        {one('equaliser', 'Equaliser')}
      </div>
      {several('amplifier', 'Amplifiers')}
      {several('driver', 'Drivers, on both sides together')}
    </div>
  );
}

/** What was picked, out of the gear that there is. */
export function pickedGear(gear: readonly GearRow[], picks: Picks): PickedGear {
  const drivers: { driver: Driver; count: number }[] = [];
  let picked: PickedGear = { amplifiers: [], drivers };
  for (const row of gear) {
    const count = picks[row.id] ?? 0;
    if (count === 0) continue;
    if (row.kind === 'source') picked = { ...picked, source: row.body };
    if (row.kind === 'processor') picked = { ...picked, processor: row.body };
    if (row.kind === 'amplifier')
      picked = { ...picked, amplifiers: [...picked.amplifiers, ...Array.from({ length: count }, () => row.body)] };
    if (row.kind === 'driver') drivers.push({ driver: row.body, count });
    if (row.kind === 'equaliser') picked = { ...picked, equaliser: row.body.equaliser };
  }
  return picked;
}

/** The settings of a new tune with the instruments that were picked, or undefined where none was. */
export function pickedSettings(gear: readonly GearRow[], picks: Picks, settings: TuneSettings): TuneSettings | undefined {
  let changed: TuneSettings | undefined;
  for (const row of gear) {
    if (picks[row.id] === undefined) continue;
    if (row.kind === 'meter') changed = { ...(changed ?? settings), meter: plainMeter(row.body) };
    if (row.kind === 'microphone') changed = { ...(changed ?? settings), microphone: plainMicrophone(row.body) };
  }
  return changed;
}
