import { say } from '@yield/words';
import { formatQuantity, signedDb, type RunStep } from '@yield/core';
import { FileText } from 'lucide-react';
import type { JSX } from 'react';
import { Link, useParams } from 'react-router';
import { stepsOfKind, useTuneRun, type TuneRun } from '../tune/useTuneRun.ts';
import { StatusMark } from '../ui/StatusMark.tsx';

/** Where a run ends: what was reached channel by channel, what is still open, and what was left out with its reason. */
export default function FinishedScreen(): JSX.Element | null {
  const { tuneId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  const counted = run.steps.filter(({ isCounted }) => isCounted);
  const open = counted.filter(({ isSettled }) => !isSettled);
  const skipped = counted.filter(({ state }) => state.status === 'skipped');
  const done = counted.length - open.length - skipped.length;
  return (
    <main className="min-w-0 flex-1 space-y-8 px-6 py-6 max-sm:px-4">
      <header>
        <h1 className="text-2xl">{open.length === 0 && counted.length > 0 ? 'Finished' : 'Run status'}</h1>
        <p className="text-quiet mt-1">
          {done} of {counted.length} steps done
          {skipped.length > 0 && `, ${skipped.length} left out with a reason`}
          {open.length > 0 && `, ${open.length} still open`}.
        </p>
      </header>
      <Link to={`/tunes/${tuneId}/sheet`} className="btn btn-primary btn-tall">
        <FileText size={20} aria-hidden /> Owner’s sheet
      </Link>
      <Reached run={run} />
      <StepList heading="Still open" steps={open} tuneId={tuneId} />
      <StepList heading="Left out" steps={skipped} tuneId={tuneId} />
    </main>
  );
}

function Reached({ run }: { run: TuneRun }): JSX.Element | null {
  const gains = stepsOfKind(run, 'gain');
  const proofs = stepsOfKind(run, 'proof');
  const { source } = run.now.chain;
  if (gains.length === 0) return null;
  return (
    <section aria-label="Reached" className="max-w-5xl">
      <h2 className="text-lg">Reached</h2>
      <p className="mt-1">
        Working volume <span className="font-semibold">{source.workingVolume}</span> of {source.volumeSteps}
        {source.volumeBasis === 'assumed' ? ', assumed: not measured yet' : ', measured'}
      </p>
      <div className="mt-3 overflow-x-auto">
        <table className="w-full min-w-xl text-left">
          <thead>
            <tr className="text-quiet text-sm">
              <th className="py-2 pr-4 font-medium">Channel</th>
              <th className="px-4 text-right font-medium">Target</th>
              <th className="px-4 text-right font-medium">Set</th>
              <th className="px-4 text-right font-medium">Delivered</th>
              <th className="pl-4 font-medium">Under load</th>
            </tr>
          </thead>
          <tbody className="divide-line border-line divide-y border-y">
            {gains.map((gain) => {
              const { channel, target } = gain.step;
              const proof = proofs.find(({ step }) => step.channel.id === channel.id);
              const { reading, advice } = gain.state.figures;
              const watt = proof?.state.figures.fullScaleWatt;
              return (
                <tr key={channel.id}>
                  <th scope="row" className="py-2 pr-4 font-medium">
                    {channel.name}
                  </th>
                  <td className="px-4 text-right whitespace-nowrap">
                    {target === undefined ? '–' : formatQuantity(target.settingVoltage, 'V')}
                  </td>
                  <td className="px-4 text-right whitespace-nowrap">
                    {reading === undefined ? 'not read' : formatQuantity(reading.value, 'V')}
                    {advice !== undefined && <span className="text-quiet ml-2 text-sm">{signedDb(advice.differenceDb)}</span>}
                  </td>
                  <td className="px-4 text-right whitespace-nowrap">{watt === undefined ? '–' : formatQuantity(watt, 'W')}</td>
                  <td className="pl-4">{proof === undefined ? '–' : <StatusMark status={proof.state.status} withWord />}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function StepList({ heading, steps, tuneId }: { heading: string; steps: readonly RunStep[]; tuneId: string }): JSX.Element | null {
  if (steps.length === 0) return null;
  return (
    <section aria-label={heading} className="max-w-3xl">
      <h2 className="text-lg">{heading}</h2>
      <ul className="divide-line border-line mt-2 divide-y border-y">
        {steps.map(({ id, title, state }) => (
          <li key={id}>
            <Link to={`/tunes/${tuneId}/run/${id}`} className="hover:bg-raised flex min-h-11 items-center gap-3 py-2">
              <StatusMark status={state.status} />
              <span className="min-w-0">
                <span className="font-medium">{title}</span>
                <span className="text-quiet block text-sm">
                  {state.findings[0] === undefined ? 'Not started.' : say(state.findings[0]).text}
                </span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
