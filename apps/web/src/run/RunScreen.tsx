import { say } from '@yield/words';
import { findingKey } from '../ui/findingKey.ts';
import { nextStep, setAsideFinding, type Intake, type RunStep } from '@yield/core';
import { ArrowRight, CircleHelp } from 'lucide-react';
import { lazy, Suspense, type JSX } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { guidePath } from '../guide/guidePath.ts';
import { LevelPath } from '../levelPath/LevelPath.tsx';
import { ConditionsPanel } from '../steps/kit/ConditionsPanel.tsx';
import { ReadingLog } from '../steps/kit/ReadingLog.tsx';
import { SkipStep } from '../steps/kit/SkipStep.tsx';
import { viewOf } from '../steps/registry.ts';
import type { ViewProps } from '../steps/view.ts';
import { benchToggled } from '../store/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { TraceLog } from '../trace/TraceLog.tsx';
import { pathBeside, pathToNext, useTuneRun, type StepNow, type TuneRun } from '../tune/useTuneRun.ts';
import { PartBoundary } from '../ui/PartBoundary.tsx';
import { useVoid } from '../tune/useVoid.ts';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Loading } from '../ui/Loading.tsx';
import { Caution } from '../ui/Notice.tsx';
import { StatusMark } from '../ui/StatusMark.tsx';
import { useKeys } from '../ui/useKeys.ts';
import { useTitle } from '../ui/useTitle.ts';

// Hardly ever asked for.
const BrokenStep = lazy(() => import('./BrokenStep.tsx'));
const FirstRun = lazy(() => import('../firstRun/FirstRun.tsx'));

/** Opens the step that is next. */
export function RunIndex(): JSX.Element | null {
  const { tuneId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  if (run.steps.length === 0) return <NoSteps tuneId={tuneId} />;
  return <Navigate to={pathToNext(run, tuneId)} replace />;
}

export function RunScreen(): JSX.Element | null {
  const { tuneId = '', stepId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  const index = run.steps.findIndex(({ id }) => id === stepId);
  const current = run.steps[index];
  if (current === undefined) return run.steps.length === 0 ? <NoSteps tuneId={tuneId} /> : <Navigate to={`/tunes/${tuneId}/run`} replace />;
  return <OneStep key={stepId} run={run} current={current} index={index} />;
}

/** One step, whatever its kind: what it stops for, its own body, what can hurt, what was measured, and the bench beside it. */
function OneStep({ run, current, index }: { run: TuneRun; current: RunStep; index: number }): JSX.Element {
  const { kind, state, title, words, caution } = current;
  const tuneId = run.tune.id;
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const benchOpen = useAppSelector((s) => s.bench.open);
  const isFirst = useAppSelector((s) => s.drafts['first-run']?.includes(tuneId) === true);
  const go = (offset: number): void => {
    const target = run.steps[index + offset];
    if (target !== undefined) void navigate(`/tunes/${tuneId}/run/${target.id}`);
  };
  useKeys({
    j: () => go(1),
    k: () => go(-1),
    b: () => dispatch(benchToggled()),
    n: () => void navigate(pathToNext(run, tuneId, current.id)),
  });
  const { Body, Bench, Side, After, hasOwnLog } = viewOf(kind.kind);
  const takes = (type: Intake['type']): boolean => hasOwnLog !== true && kind.intakes.some((intake) => intake.type === type);
  // The view of a kind knows the subject and the figures of that kind.
  const props: ViewProps = { run, current: current as StepNow };
  useTitle(`${title} · ${run.tune.name}`);
  return (
    <main className="flex min-w-0 flex-1 flex-col gap-3 px-6 pt-4 max-sm:px-4">
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-1">
        <div className="min-w-0">
          <h1 className="text-2xl leading-tight max-sm:text-xl">{title}</h1>
          <p className="text-quiet mt-0.5 max-sm:text-sm">{words.where}</p>
        </div>
        <div className="flex items-center gap-5">
          <StatusMark status={state.status} withWord size={22} />
          <span className="text-quiet max-xl:hidden">
            {index + 1} of {run.steps.length}
          </span>
          <Link
            to={guidePath(kind.stage)}
            className="btn btn-ghost btn-square text-quiet -my-2"
            aria-label="What this stage is for, in the guide"
            title="What this stage is for, in the guide"
          >
            <CircleHelp size={20} aria-hidden />
          </Link>
        </div>
      </div>
      {isFirst && (
        <Suspense fallback={null}>
          <FirstRun run={run} current={current} />
        </Suspense>
      )}
      <Stops tuneId={tuneId} current={current} />
      <SetAside run={run} stepId={current.id} />
      <div className="grid items-start gap-5 lg:grid-cols-[minmax(0,1fr)_16.5rem]">
        <div className="min-w-0 space-y-3">
          <Suspense fallback={<Loading what="the step" />}>
            {current.fault === undefined ? (
              <PartBoundary
                what={title}
                instead={(error, retry) => <BrokenStep run={run} stepId={current.id} title={title} why={error.message} onRetry={retry} />}
              >
                <Body {...props} />
              </PartBoundary>
            ) : (
              <BrokenStep
                run={run}
                stepId={current.id}
                title={title}
                why={state.findings[0] === undefined ? current.fault : say(state.findings[0]).text}
              />
            )}
            {state.findings.some(({ code }) => code === 'reads-nothing') && current.channels[0] !== undefined && (
              <Link to={`/tunes/${tuneId}/no-sound/${current.channels[0].channel.id}`} className="btn btn-tall">
                Find where the signal is lost
              </Link>
            )}
            {caution !== undefined && <Caution>{caution}</Caution>}
            <PartBoundary what="what was recorded at this step">
              {takes('capture') && <TraceLog run={run} stepId={current.id} />}
              {takes('reading') && <ReadingLog run={run} stepId={current.id} />}
            </PartBoundary>
            {After !== undefined && current.fault === undefined && (
              <PartBoundary what="what follows from this step">
                <After {...props} />
              </PartBoundary>
            )}
          </Suspense>
        </div>
        <div className="space-y-4">
          <PartBoundary what="the panel beside this step">
            <Suspense fallback={null}>
              {current.fault !== undefined ? null : benchOpen && Bench !== undefined ? (
                <Bench {...props} />
              ) : Side === undefined ? (
                <ConditionsPanel run={run} current={current} />
              ) : (
                <Side {...props} />
              )}
            </Suspense>
          </PartBoundary>
          <div className="flex flex-wrap gap-2">
            {Bench !== undefined && (
              <button type="button" className="btn flex-1" onClick={() => dispatch(benchToggled())}>
                {benchOpen ? 'Close the bench' : 'Simulated bench'} <kbd className="key">b</kbd>
              </button>
            )}
            <SkipStep run={run} current={current} />
          </div>
        </div>
      </div>
      <div className="bg-ground border-line sticky bottom-0 z-10 -mx-6 mt-auto flex flex-wrap-reverse items-end gap-x-6 gap-y-1 border-t px-6 py-2 max-sm:-mx-4 max-sm:px-4">
        <div className="min-w-0 flex-1 basis-72">
          <PartBoundary what="the level path">
            <PathOf run={run} current={current} />
          </PartBoundary>
        </div>
        <NextButton run={run} current={current} />
      </div>
    </main>
  );
}

function PathOf({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element | null {
  const path = pathBeside(run, current);
  return path === undefined ? null : <LevelPath {...path} />;
}

/** What comes next, by its name: always there, under the thumb on a phone. */
function NextButton({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element {
  const next = nextStep(run.steps, current.id);
  const words = next !== undefined ? `Next: ${next.title}` : current.isSettled ? 'Finished: what was reached' : 'Nothing else is open';
  return (
    <Link
      to={pathToNext(run, run.tune.id, current.id)}
      className={`btn btn-tall min-w-0 max-w-full flex-nowrap max-sm:w-full ${current.isSettled ? 'btn-primary' : ''}`}
    >
      <span className="truncate">{words}</span> <kbd className="key max-sm:hidden">n</kbd>
      <ArrowRight size={18} aria-hidden className="shrink-0" />
    </Link>
  );
}

/** Records that cannot be judged, each with the way to take it back: whatever the step's own view shows. */
function SetAside({ run, stepId }: { run: TuneRun; stepId: string }): JSX.Element | null {
  const voidIt = useVoid(run.tune.id);
  const own = run.now.setAside.filter((each) => each.stepId === stepId);
  if (own.length === 0) return null;
  return (
    <ul className="border-attention space-y-3 rounded-md border-2 p-4" aria-label="Records that cannot be judged">
      {own.map((each) => (
        <li key={each.id}>
          <FindingLine finding={setAsideFinding(each)} />
          {each.of !== 'mark' && (
            <button
              type="button"
              className="btn mt-2 ml-8"
              onClick={() => voidIt(each.of === 'capture' ? 'trace' : 'reading', each.id, 'cannot be judged')}
            >
              Void this {each.of}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

/** What stops the step, with the ways out. */
function Stops({ tuneId, current: { state, channels } }: { tuneId: string; current: RunStep }): JSX.Element {
  const channelId = channels[0]?.channel.id ?? '';
  return (
    <>
      {state.findings
        .filter(({ grade }) => grade === 'stop')
        .map((finding) => (
          <div key={findingKey(finding)} className="border-stop rounded-md border-2 p-4">
            <FindingLine finding={finding} large />
            <div className="mt-3 ml-9 flex flex-wrap gap-2">
              {finding.action?.kind === 'rewire' && (
                <Link to={`/tunes/${tuneId}/wiring/${channelId}`} className="btn">
                  Plan the wiring
                </Link>
              )}
              {finding.code === 'bare-tweeter' && (
                <Link to={`/tunes/${tuneId}/crossovers`} className="btn">
                  Open the crossovers
                </Link>
              )}
              {finding.code !== 'contradicted' && (
                <Link to={`/tunes/${tuneId}/chain`} className="btn">
                  Open the chain
                </Link>
              )}
            </div>
          </div>
        ))}
    </>
  );
}

function NoSteps({ tuneId }: { tuneId: string }): JSX.Element {
  return (
    <main className="flex-1 px-6 py-8">
      <section className="panel max-w-xl p-8">
        <h1 className="text-xl">No steps yet</h1>
        <p className="text-quiet mt-2">
          The run is built from the chain. Enter an amplifier with its rated power and at least one channel with its drivers.
        </p>
        <Link to={`/tunes/${tuneId}/chain`} className="btn btn-primary btn-tall mt-5">
          Describe the chain
        </Link>
      </section>
    </main>
  );
}
