import { formatQuantity, joinWords, type Join, type JoinKind, type LoadCoil } from '@yield/core';
import { X } from 'lucide-react';
import type { JSX } from 'react';
import { Badge, resistorWire } from './WiringDrawing.tsx';

const LEGEND: Record<JoinKind, string> = { feed: 'from the amplifier', series: 'series jumper', parallel: 'parallel jumper' };

/** The drawing in words: every connection with its number. */
export function ConnectionList({
  joins,
  kinds,
  coils,
  onRemove,
  resistorOhm,
}: {
  joins: readonly Join[];
  kinds: readonly JoinKind[];
  coils: readonly LoadCoil[];
  onRemove?: (join: Join) => void;
  resistorOhm?: number;
}): JSX.Element {
  return (
    <section aria-label="Connections" className="@container">
      <h3 className="text-sm font-semibold">Connections</h3>
      <ol className="mt-1 grid gap-x-8 text-[0.9375rem] @min-[30rem]:grid-cols-2 print:grid-cols-2">
        {joins.map((join, i) => {
          const kind = kinds[i] ?? 'feed';
          return (
            <li key={join.join(' ')} className="flex min-h-9 items-center gap-3 py-1 print:min-h-0 print:py-0.5">
              <svg width="30" height="24" viewBox="-15 -12 30 24" className="shrink-0 print:h-4" aria-hidden>
                <Badge number={i + 1} kind={kind} x={0} y={0} />
              </svg>
              <span className="leading-tight">
                <span className="sr-only">{i + 1}: </span>
                {sentence(joinWords(join, kind, coils))}
                <span className="sr-only">, {LEGEND[kind]}</span>
              </span>
              {onRemove !== undefined && (
                <button
                  type="button"
                  className="btn btn-ghost btn-square text-quiet ml-auto print:hidden"
                  aria-label={`Take out wire ${i + 1}`}
                  onClick={() => onRemove(join)}
                >
                  <X size={18} aria-hidden />
                </button>
              )}
            </li>
          );
        })}
        {resistorOhm !== undefined && (
          <li className="flex min-h-9 items-center gap-3 py-1 leading-tight">
            <svg width="30" height="24" viewBox="-15 -12 30 24" className="shrink-0 print:h-4" aria-hidden>
              <path d="M-15 0H-11M11 0H15M-11 -6H11V6H-11z" fill="none" stroke="var(--stop)" strokeWidth={2.2} />
            </svg>
            {resistorWords(joins, resistorOhm)}
          </li>
        )}
        {joins.length === 0 && <li className="text-quiet">None yet.</li>}
      </ol>
      <Legend />
    </section>
  );
}

function Legend(): JSX.Element {
  return (
    <ul className="text-quiet mt-3 flex flex-wrap gap-x-6 gap-y-1 text-sm">
      {(Object.keys(LEGEND) as JoinKind[]).map((kind) => (
        <li key={kind} className="flex items-center gap-2">
          <svg width="46" height="14" viewBox="0 0 46 14" aria-hidden>
            <path
              d="M2 7H44"
              stroke={kind === 'feed' ? 'var(--ink)' : kind === 'series' ? 'var(--wave-4)' : 'var(--wave-2)'}
              strokeWidth={kind === 'feed' ? 3.5 : 3}
              {...(kind === 'series' ? { strokeDasharray: '9 5' } : {})}
            />
          </svg>
          {LEGEND[kind]}
        </li>
      ))}
    </ul>
  );
}

const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

function resistorWords(joins: readonly Join[], resistorOhm: number): string {
  const wire = resistorWire(joins);
  const where = wire === -1 ? 'between the amplifier and the point where its wires part' : `in wire ${wire + 1}`;
  return `Resistor of ${formatQuantity(resistorOhm, 'ohm')} ${where}`;
}
