import type { Finding, StepStatus } from '@yield/core';
import type { JSX } from 'react';

/** Status is told by shape and word first, by colour last: square done, diamond out of tolerance, octagon stop, broken ring stale. */
type Shape = 'square' | 'diamond' | 'octagon' | 'broken-ring' | 'ring' | 'dash';

const STATUS: Record<StepStatus, { shape: Shape; word: string; color: string }> = {
  done: { shape: 'square', word: 'Done', color: 'text-good' },
  'out-of-tolerance': { shape: 'diamond', word: 'Out of tolerance', color: 'text-attention' },
  stop: { shape: 'octagon', word: 'Stop', color: 'text-stop' },
  stale: { shape: 'broken-ring', word: 'Stale', color: 'text-stale' },
  open: { shape: 'ring', word: 'Open', color: 'text-quiet' },
  skipped: { shape: 'dash', word: 'Skipped', color: 'text-quiet' },
};

const GRADE: Record<Finding['grade'], { shape: Shape; color: string }> = {
  good: { shape: 'square', color: 'text-good' },
  attention: { shape: 'diamond', color: 'text-attention' },
  stop: { shape: 'octagon', color: 'text-stop' },
  stale: { shape: 'broken-ring', color: 'text-stale' },
  note: { shape: 'dash', color: 'text-quiet' },
};

/** The mark of a step's status; the word stands beside it, or is read out where there is no room. */
export function StatusMark({
  status,
  withWord = false,
  size = 18,
}: {
  status: StepStatus;
  withWord?: boolean;
  size?: number;
}): JSX.Element {
  const { shape, word, color } = STATUS[status];
  return (
    <span className={`inline-flex shrink-0 items-center gap-2 ${color}`}>
      <ShapeIcon shape={shape} size={size} {...(withWord ? {} : { title: word })} />
      {withWord && <span className="font-semibold">{word}</span>}
    </span>
  );
}

export function GradeMark({ grade, size = 20 }: { grade: Finding['grade']; size?: number }): JSX.Element {
  const { shape, color } = GRADE[grade];
  return (
    <span className={`shrink-0 ${color}`}>
      <ShapeIcon shape={shape} size={size} />
    </span>
  );
}

function ShapeIcon({ shape, size, title }: { shape: Shape; size: number; title?: string }): JSX.Element {
  const label = title === undefined ? { 'aria-hidden': true } : { role: 'img', 'aria-label': title };
  return (
    <svg width={size} height={size} viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="2" {...label}>
      {title !== undefined && <title>{title}</title>}
      {shape === 'square' && (
        <>
          <rect x="2.5" y="2.5" width="15" height="15" rx="1.5" fill="currentColor" />
          <path d="M6 10.2l2.8 2.8L14 7.4" stroke="var(--ground)" strokeWidth="2.2" />
        </>
      )}
      {shape === 'diamond' && (
        <>
          <path d="M10 1.5 18.5 10 10 18.5 1.5 10z" fill="currentColor" />
          <path d="M10 6v5M10 13.2v1.6" stroke="var(--ground)" strokeWidth="2.2" />
        </>
      )}
      {shape === 'octagon' && (
        <>
          <path d="M6.5 1.5h7l5 5v7l-5 5h-7l-5-5v-7z" fill="currentColor" />
          <path d="M6 10h8" stroke="var(--ground)" strokeWidth="2.6" />
        </>
      )}
      {shape === 'broken-ring' && <circle cx="10" cy="10" r="7.5" strokeDasharray="7.8 3.9" />}
      {shape === 'ring' && <circle cx="10" cy="10" r="7.5" />}
      {shape === 'dash' && <path d="M4 10h12" />}
    </svg>
  );
}
