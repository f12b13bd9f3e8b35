import { safeVolumes } from '@yield/core';
import { FileText } from 'lucide-react';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { Checks } from '../kit/Checks.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';

/** The vehicle goes back to its owner: how loud, what to leave alone, and the sheet. */
export function HandoverBody({ run, current }: ViewProps<'handover'>): JSX.Element {
  const { volumeSteps } = run.now.chain.source;
  return (
    <div className="min-w-0 space-y-5">
      <ul className="flex flex-wrap gap-4" aria-label="Never louder than">
        {safeVolumes(run.now).map(({ settingsCase: { id, name }, step, basis }) => (
          <li key={id} className="border-line min-w-40 rounded-md border px-5 py-3">
            <p className="break-words">{name}</p>
            <p className="text-5xl font-semibold">{step ?? '?'}</p>
            <p className="text-quiet text-sm">
              {step === undefined ? 'not measured: leave it off' : `of ${volumeSteps}${basis === 'assumed' ? ', assumed' : ''}`}
            </p>
          </li>
        ))}
      </ul>
      <Checks run={run} current={current} />
      <Verdict
        findings={current.state.findings}
        hint="Sit in with the owner: play at the highest safe volume, show that more is not louder but clipped, and say what to leave alone."
      />
      <Link to={`/tunes/${run.tune.id}/sheet`} className="btn btn-primary btn-tall">
        <FileText size={20} aria-hidden /> Sign and print the sheet
      </Link>
    </div>
  );
}
