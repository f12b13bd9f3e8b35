import { driverLetter, formatQuantity, loadOptions, LOAD_SLACK, networkTextWords, plainFigure, type DriverSpec } from '@yield/core';
import { Printer } from 'lucide-react';
import type { JSX } from 'react';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useQuantityDraft } from '../ui/useDraft.ts';
import { useToday } from '../ui/useToday.ts';

const COUNTS = [1, 2, 3, 4];
const COILS = [1, 2] as const;
const OHMS = [1, 2, 4, 8];

/** Every load that one to four drivers can be wired to, made for the amplifier at hand, as one page to hang up. */
export function LoadTable(): JSX.Element {
  const today = useToday();
  const lowest = useQuantityDraft('desk/table-lowest', 'ohm', '2');
  return (
    <div className="space-y-5">
      <div className="flex flex-wrap items-end gap-4 print:hidden">
        <QuantityField
          label="Lowest load of the amplifier"
          unit="ohm"
          draft={lowest}
          className="w-60"
          hint="Loads below it are struck out"
        />
        <button type="button" className="btn btn-tall" onClick={() => window.print()}>
          <Printer size={18} aria-hidden /> Print
        </button>
      </div>
      <p className="hidden print:block">
        For an amplifier that is good to {formatQuantity(lowest.value ?? 0, 'ohm')}, {today}
      </p>
      <div className="grid gap-x-10 gap-y-6 xl:grid-cols-2 print:grid-cols-2">
        {COILS.map((coils) => (
          <OneTable key={coils} coils={coils} lowestOhm={lowest.value} />
        ))}
      </div>
    </div>
  );
}

function OneTable({ coils, lowestOhm }: { coils: 1 | 2; lowestOhm: number | undefined }): JSX.Element {
  const title = coils === 1 ? 'Drivers of one coil' : 'Drivers of two coils';
  return (
    <section aria-label={title} className="min-w-0 overflow-x-auto">
      <h2 className="text-lg">{title}</h2>
      <table className="mt-2 w-full text-left">
        <thead>
          <tr className="text-quiet text-sm">
            <th className="py-1.5 pr-3 font-medium">Drivers</th>
            {OHMS.map((ohm) => (
              <th key={ohm} className="px-2 font-medium">
                {coils === 1 ? '' : '2 × '}
                {formatQuantity(ohm, 'ohm')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="divide-line border-line divide-y border-y">
          {COUNTS.map((count) => (
            <tr key={count} className="align-top">
              <th scope="row" className="py-2 pr-3 font-semibold">
                {count}
              </th>
              {OHMS.map((ohm) => (
                <td key={ohm} className="px-2 py-2">
                  <Loads count={count} coils={coils} ohm={ohm} lowestOhm={lowestOhm} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Loads({ count, coils, ohm, lowestOhm }: { count: number; coils: 1 | 2; ohm: number; lowestOhm: number | undefined }): JSX.Element {
  const drivers = Array.from({ length: count }, (_, i): DriverSpec => ({ name: driverLetter(i), coils, coilOhm: ohm }));
  const { options } = loadOptions({ drivers });
  const loads = new Map<string, { loadOhm: number; words: string }>();
  for (const { loadOhm, network, balanced } of options) {
    const key = `${plainFigure(loadOhm)}\u00a0Ω`;
    if (balanced && !loads.has(key)) loads.set(key, { loadOhm, words: count * coils === 1 ? 'as it is' : networkTextWords(network) });
  }
  return (
    <ul className="space-y-0.5">
      {[...loads].map(([key, { loadOhm, words }]) => {
        const isLow = lowestOhm !== undefined && loadOhm < lowestOhm * (1 - LOAD_SLACK);
        return (
          <li key={key} title={words} className={isLow ? 'text-quiet line-through' : 'font-medium'}>
            {key}
            <span className="sr-only">
              {isLow ? ', too low' : ''}, {words}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
