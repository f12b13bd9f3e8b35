import type { HookupOutput, HookupPlan } from '@yield/core';
import type { JSX } from 'react';

const ROW = 50;
const LABELS = ['A left', 'A right', 'B left', 'B right'];

/** The amplifier's terminal strip, and what hangs on which two terminals. */
export function HookupDrawing({
  plan,
  outputs,
  terminalPairs,
}: {
  plan: HookupPlan;
  outputs: 1 | 2 | 4;
  terminalPairs: 1 | 2;
}): JSX.Element {
  const rows = outputs === 1 ? terminalPairs : outputs;
  const labels = outputs === 1 ? ['first pair', 'second pair'] : LABELS;
  const height = rows * ROW + 8;
  const plusY = (row: number): number => row * ROW + 17;
  const minusY = (row: number): number => row * ROW + 41;
  return (
    <svg
      viewBox={`0 0 200 ${height}`}
      className="w-full max-w-52"
      role="img"
      aria-label={plan.outputs.map(({ terminals, drives }) => `${drives} on ${terminals}`).join('; ')}
    >
      <rect x={2} y={2} width={86} height={height - 4} rx={5} fill="var(--raised)" stroke="var(--line)" strokeWidth={1.5} />
      {labels.slice(0, rows).map((label, row) => (
        <g key={label}>
          <text x={9} y={row * ROW + 33} fontSize={11.5} fill="var(--quiet)">
            {label}
          </text>
          <Terminal y={plusY(row)} plus />
          <Terminal y={minusY(row)} plus={false} />
        </g>
      ))}
      {outputs === 1 && terminalPairs === 2 && (
        <g stroke="var(--quiet)" strokeWidth={1.5} strokeDasharray="3 3" fill="none">
          <path d={`M68 ${plusY(0)}H60V${plusY(1)}H68`} />
          <path d={`M68 ${minusY(0)}H63V${minusY(1)}H68`} />
        </g>
      )}
      {plan.outputs
        .flatMap((output) => loadsOf(output, plan.id, terminalPairs))
        .map(({ from, to, speakers }) => {
          const [y1, y2] = [plusY(from), minusY(to)];
          const middle = (y1 + y2) / 2;
          return (
            <g key={`${from} ${to} ${speakers}`}>
              <g fill="none" stroke="var(--ink)" strokeWidth={2}>
                <path d={`M86 ${y1}H132V${middle - 6}H146`} />
                <path d={`M86 ${y2}H124V${middle + 6}H146`} />
              </g>
              {Array.from({ length: speakers }, (_, i) => (
                <path
                  key={i}
                  d={`M${146 + 26 * i} ${middle - 9}h7v18h-7zM${153 + 26 * i} ${middle - 9}l11 -8v34l-11 -8`}
                  fill="var(--ground)"
                  stroke="var(--ink)"
                  strokeWidth={1.6}
                  strokeLinejoin="round"
                />
              ))}
            </g>
          );
        })}
    </svg>
  );
}

/** Which terminals a load hangs on, as rows of the strip: bridged, the plus of the first and the minus of the second. */
function loadsOf(
  { uses, mode, drives }: HookupOutput,
  planId: string,
  terminalPairs: 1 | 2,
): { from: number; to: number; speakers: number }[] {
  const first = uses[0] ?? 0;
  if (planId === 'mono-two' && terminalPairs === 2) {
    return [
      { from: 0, to: 0, speakers: 1 },
      { from: 1, to: 1, speakers: 1 },
    ];
  }
  const speakers = drives.includes('in parallel') || drives.startsWith('two') ? 2 : 1;
  return [{ from: first, to: mode === 'bridged' ? (uses[1] ?? first) : first, speakers }];
}

function Terminal({ y, plus }: { y: number; plus: boolean }): JSX.Element {
  return (
    <g transform={`translate(77 ${y})`}>
      <circle r={7.5} fill={plus ? 'var(--ink)' : 'var(--ground)'} stroke="var(--ink)" strokeWidth={1.6} />
      <path d={plus ? 'M-3.5 0H3.5M0 -3.5V3.5' : 'M-3.5 0H3.5'} stroke={plus ? 'var(--ground)' : 'var(--ink)'} strokeWidth={1.8} />
    </g>
  );
}
