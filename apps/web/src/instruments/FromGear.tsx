import type { GearRow } from '@yield/contract';
import { GEAR_NAMES, type GearKind } from '@yield/core';
import type { JSX } from 'react';
import { useListGearQuery } from '../api/yieldApi.ts';

type RowOf<K extends GearKind> = Extract<GearRow, { kind: K }>;

/** Takes an instrument of the shop's library over, where there is one. */
export function FromGear<K extends GearKind>({ kind, onTake }: { kind: K; onTake: (body: RowOf<K>['body']) => void }): JSX.Element | null {
  const { data: gear = [] } = useListGearQuery();
  const own = gear.filter((row): row is RowOf<K> => row.kind === kind);
  if (own.length === 0) return null;
  return (
    <label className="block w-fit">
      <span className="label mb-1 block">{GEAR_NAMES[kind]} out of the shop’s gear</span>
      <select
        className="select min-h-11 w-72 max-w-full"
        value=""
        onChange={(event) => {
          const chosen = own.find(({ id }) => id === event.target.value);
          if (chosen !== undefined) onTake(chosen.body as RowOf<K>['body']);
        }}
      >
        <option value="">choose …</option>
        {own.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
