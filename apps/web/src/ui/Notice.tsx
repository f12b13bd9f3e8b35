import { OctagonAlert, TriangleAlert } from 'lucide-react';
import type { JSX, ReactNode } from 'react';

/** Something went wrong or was refused: what, and what to do. */
export function ErrorNotice({ children }: { children: ReactNode }): JSX.Element {
  return (
    <div
      role="alert"
      className="border-stop text-ink flex gap-3 rounded-md border-l-4 px-4 py-3"
      style={{ background: 'color-mix(in srgb, var(--stop) 10%, var(--ground))' }}
    >
      <OctagonAlert size={20} className="text-stop mt-0.5 shrink-0" aria-hidden />
      <div className="min-w-0">{children}</div>
    </div>
  );
}

/** The usual caution at a step where the work can hurt someone. */
export function Caution({ children }: { children: ReactNode }): JSX.Element {
  return (
    <p className="text-quiet flex gap-2 text-sm leading-snug">
      <TriangleAlert size={18} className="text-attention mt-px shrink-0" aria-hidden />
      <span>{children}</span>
    </p>
  );
}
