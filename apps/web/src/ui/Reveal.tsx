import { ChevronRight } from 'lucide-react';
import type { JSX, ReactNode } from 'react';

/** Folded away until it is asked for. */
export function Reveal({ summary, children }: { summary: string; children: ReactNode }): JSX.Element {
  return (
    <details className="group">
      <summary className="text-action flex min-h-11 cursor-pointer list-none items-center gap-2 font-medium">
        <span className="inline-block transition-transform group-open:rotate-90" aria-hidden>
          <ChevronRight size={18} />
        </span>
        {summary}
      </summary>
      <div className="pb-2">{children}</div>
    </details>
  );
}
