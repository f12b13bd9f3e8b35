import type { JSX } from 'react';

interface CurveLook {
  color: string;
  dash: string | undefined;
}

/** Curves of one picture are told apart by hue and by dash. */
const LOOKS: readonly CurveLook[] = [
  { color: 'var(--wave-1)', dash: undefined },
  { color: 'var(--wave-3)', dash: '7 4' },
  { color: 'var(--wave-2)', dash: '2 4' },
  { color: 'var(--wave-4)', dash: '10 3 2 3' },
];

export const lookOf = (index: number): CurveLook => LOOKS[index % LOOKS.length]!;

/** A short piece of a curve, for its legend. */
export function CurveSample({ index }: { index: number }): JSX.Element {
  const { color, dash } = lookOf(index);
  return (
    <svg width="26" height="8" aria-hidden>
      <line x1="0" x2="26" y1="4" y2="4" stroke={color} strokeWidth="2.5" strokeDasharray={dash} />
    </svg>
  );
}
