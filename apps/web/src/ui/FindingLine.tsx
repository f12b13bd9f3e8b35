import type { Finding, Grade } from '@yield/core';
import { say } from '@yield/words';
import type { JSX } from 'react';
import { GradeMark } from './StatusMark.tsx';

/** One judgement with its next move. */
export function FindingLine({ finding, large = false }: { finding: Finding; large?: boolean }): JSX.Element {
  return <GradedLine grade={finding.grade} {...say(finding)} large={large} />;
}

export interface Graded {
  grade: Grade;
  text: string;
  next?: string | undefined;
}

/** A sentence with its grade, which is no finding of the core. */
export function GradedLine({ grade, text, next, large = false }: Graded & { large?: boolean }): JSX.Element {
  return (
    <div className="flex gap-3">
      <span className={large ? 'pt-1' : 'pt-0.5'}>
        <GradeMark grade={grade} size={large ? 24 : 18} />
      </span>
      <div className="min-w-0">
        <p className={large ? 'text-xl leading-snug font-semibold' : 'leading-snug'}>{text}</p>
        {next !== undefined && <p className={large ? 'text-quiet mt-1 text-base' : 'text-quiet mt-0.5 text-sm'}>{next}</p>}
      </div>
    </div>
  );
}
