import type { TuneDetail } from '@yield/contract';
import { formatQuantity, groupName, reachAt, signedDb, type Chain, type AlikeGroups, type ProvedFilters } from '@yield/core';
import { useState, type JSX } from 'react';
import { CurveSample } from '../ui/curveLooks.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { readQuantity } from '../ui/useDraft.ts';

/** What reaches each way's drivers where the picture's line stands. */
export function AtFrequency({
  tune,
  chain,
  groups,
  proved,
  cursorHz,
  onCursor,
}: {
  tune: TuneDetail;
  chain: Chain;
  groups: readonly AlikeGroups[];
  proved: ProvedFilters;
  cursorHz: number;
  onCursor: (hertz: number) => void;
}): JSX.Element {
  const [text, setText] = useState<string | null>(null);
  const shown = Number(cursorHz.toPrecision(3));
  const draft = { text: text ?? String(shown), ...readQuantity(text ?? String(shown), 'Hz') };
  return (
    <section className="panel" aria-label="At one frequency">
      <div onBlur={() => setText(null)}>
        <QuantityField
          label="A full-scale tone of"
          unit="Hz"
          draft={{
            ...draft,
            setText: (next) => {
              setText(next);
              const { value } = readQuantity(next ?? '', 'Hz');
              if (value !== undefined) onCursor(value);
            },
          }}
        />
      </div>
      <table className="mt-3 w-full text-sm">
        <thead className="sr-only">
          <tr>
            <th>Way</th>
            <th>Level</th>
            <th>Voltage</th>
            <th>Power</th>
          </tr>
        </thead>
        <tbody>
          {groups.map((group, i) => {
            const { db, volt, watt } = reachAt(chain, tune.settings.rules, group, cursorHz, proved);
            return (
              <tr key={group.id} className="border-line border-t">
                <td className="py-1.5 pr-2">
                  <span className="flex items-center gap-2 leading-tight">
                    <span className="shrink-0">
                      <CurveSample index={i} />
                    </span>
                    <span>{groupName(group)}</span>
                  </span>
                </td>
                <td className="text-right font-medium whitespace-nowrap">{db < -80 ? '< −80 dB' : signedDb(db)}</td>
                <td className="pl-2 text-right whitespace-nowrap">{volt === undefined || db < -80 ? '–' : formatQuantity(volt, 'V')}</td>
                <td className="pl-2 text-right whitespace-nowrap">
                  {watt === undefined || db < -80 ? '–' : watt < 0.01 ? '< 0.01 W' : formatQuantity(watt, 'W')}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
