import type { Finding, Grade } from '@yield/core';
import { say } from '@yield/words';
import type { JSX, ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { GradeMark } from './StatusMark.tsx';

/** One judgement with its next move. */
export function FindingLine({ finding, large = false }: { finding: Finding; large?: boolean }): JSX.Element {
  // Beside a step alone: lists have their own way there.
  const { tuneId, stepId } = useParams();
  const settledAt = finding.code === 'contradicted' || finding.code === 'distorts-upstream' ? finding.action : undefined;
  return (
    <GradedLine grade={finding.grade} {...say(finding)} large={large}>
      {tuneId !== undefined && stepId !== undefined && settledAt?.kind === 'go' && (
        <Link to={`/tunes/${tuneId}/run/${settledAt.to}`} className="btn mt-2">
          Open that step
        </Link>
      )}
    </GradedLine>
  );
}

export interface Graded {
  grade: Grade;
  text: string;
  next?: string | undefined;
}

/** A sentence with its grade, which is no finding of the core. */
export function GradedLine({
  grade,
  text,
  next,
  large = false,
  children,
}: Graded & { large?: boolean; children?: ReactNode }): JSX.Element {
  return (
    <div className="flex gap-3">
      <span className={large ? 'pt-1' : 'pt-0.5'}>
        <GradeMark grade={grade} size={large ? 24 : 18} />
      </span>
      <div className="min-w-0">
        <p className={large ? 'text-xl leading-snug font-semibold' : 'leading-snug'}>{text}</p>
        {next !== undefined && <p className={large ? 'text-quiet mt-1 text-base' : 'text-quiet mt-0.5 text-sm'}>{next}</p>}
        {children}
      </div>
    </div>
  );
}
