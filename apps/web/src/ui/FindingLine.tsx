import type { Finding } from '@yield/core';
import type { JSX } from 'react';
import { GradeMark } from './StatusMark.tsx';

/** One judgement with its next move. */
export function FindingLine({
  finding,
  large = false,
}: {
  finding: Pick<Finding, 'grade' | 'words' | 'next'>;
  large?: boolean;
}): JSX.Element {
  return (
    <div className="flex gap-3">
      <span className={large ? 'pt-1' : 'pt-0.5'}>
        <GradeMark grade={finding.grade} size={large ? 24 : 18} />
      </span>
      <div className="min-w-0">
        <p className={large ? 'text-xl leading-snug font-semibold' : 'leading-snug'}>{finding.words}</p>
        {finding.next !== undefined && <p className={large ? 'text-quiet mt-1 text-base' : 'text-quiet mt-0.5 text-sm'}>{finding.next}</p>}
      </div>
    </div>
  );
}
