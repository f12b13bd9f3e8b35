import { findingKey } from '../../ui/findingKey.ts';
import type { Finding } from '@yield/core';
import type { JSX, ReactNode } from 'react';
import { FindingLine } from '../../ui/FindingLine.tsx';

/** What the measured figure means: the first finding large. What stops the step stands above it, on the frame. */
export function Verdict({ findings, hint, children }: { findings: readonly Finding[]; hint?: string; children?: ReactNode }): JSX.Element {
  const shown = findings.filter(({ grade }) => grade !== 'stop');
  return (
    <div className="space-y-3 self-center" aria-live="polite" data-testid="verdict">
      {shown.length === 0 && hint !== undefined && <p className="text-quiet">{hint}</p>}
      {shown.map((finding, i) => (
        <FindingLine key={findingKey(finding)} finding={finding} large={i === 0} />
      ))}
      {children}
    </div>
  );
}
