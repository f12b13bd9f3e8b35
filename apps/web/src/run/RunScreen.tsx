import { bareTweeter, isChannelStep, type Step, type StepKind } from '@yield/core';
import { lazy, Suspense, type JSX } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { BenchPanel } from '../bench/BenchPanel.tsx';
import { OhmBench } from '../bench/OhmBench.tsx';
import { LevelPath } from '../levelPath/LevelPath.tsx';
import { benchToggled } from '../store/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Loading } from '../ui/Loading.tsx';
import { StatusMark } from '../ui/StatusMark.tsx';
import { FindingLine } from '../ui/FindingLine.tsx';
import { useKeys } from '../ui/useKeys.ts';
import { CoilsStep } from './CoilsStep.tsx';
import { ConditionsPanel } from './ConditionsPanel.tsx';
import { GainStep } from './GainStep.tsx';
import { HookupStep } from './HookupStep.tsx';
import { LoadFacts } from './LoadFacts.tsx';
import { ProofStep } from './ProofStep.tsx';
import { SkipStep } from './SkipStep.tsx';
import { WholeStep } from './WholeStep.tsx';
import { useTuneRun, type RunStep, type TuneRun } from './useTuneRun.ts';

// The steps before the gains come with a chunk of their own: at the car most visits go to the gains and the proof.
const sourceSteps = () => import('../source/sourceSteps.ts');
const CeilingStep = lazy(async () => ({ default: (await sourceSteps()).CeilingStep }));
const FactoryStep = lazy(async () => ({ default: (await sourceSteps()).FactoryStep }));
const FlatStep = lazy(async () => ({ default: (await sourceSteps()).FlatStep }));
const InputStep = lazy(async () => ({ default: (await sourceSteps()).InputStep }));
const OutputStep = lazy(async () => ({ default: (await sourceSteps()).OutputStep }));
const SourceFacts = lazy(async () => ({ default: (await sourceSteps()).SourceFacts }));
const ProcessorBench = lazy(async () => ({ default: (await sourceSteps()).ProcessorBench }));
const SourceBench = lazy(async () => ({ default: (await sourceSteps()).SourceBench }));
const SweepBench = lazy(async () => ({ default: (await sourceSteps()).SweepBench }));

const crossoverSteps = () => import('../crossovers/crossoverSteps.ts');
const CrossoverStep = lazy(async () => ({ default: (await crossoverSteps()).CrossoverStep }));
const FiltersStep = lazy(async () => ({ default: (await crossoverSteps()).FiltersStep }));
const FilterBench = lazy(async () => ({ default: (await crossoverSteps()).FilterBench }));

/** Opens the step that is next. */
export function RunIndex(): JSX.Element | null {
  const { tuneId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  const next = run.steps.find(({ state }) => state.status !== 'done' && state.status !== 'skipped') ?? run.steps[0];
  if (next === undefined) return <NoSteps tuneId={tuneId} />;
  return <Navigate to={`/tunes/${tuneId}/run/${next.step.id}`} replace />;
}

export function RunScreen(): JSX.Element | null {
  const { tuneId = '', stepId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  const index = run.steps.findIndex(({ step }) => step.id === stepId);
  const current = run.steps[index];
  if (current === undefined) return run.steps.length === 0 ? <NoSteps tuneId={tuneId} /> : <Navigate to={`/tunes/${tuneId}/run`} replace />;
  return <OneStep key={stepId} run={run} current={current} index={index} />;
}

function OneStep({ run, current, index }: { run: TuneRun; current: RunStep; index: number }): JSX.Element {
  const { step, state, title, levels } = current;
  const tuneId = run.tune.id;
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const benchOpen = useAppSelector((s) => s.bench.open);
  const go = (offset: number): void => {
    const target = run.steps[index + offset];
    if (target !== undefined) void navigate(`/tunes/${tuneId}/run/${target.step.id}`);
  };
  useKeys({ j: () => go(1), k: () => go(-1), b: () => dispatch(benchToggled()) });
  const hasBench = !BENCHLESS_KINDS.includes(step.kind);
  const stops = state.findings.filter(({ grade }) => grade === 'stop');
  return (
    <main className="flex min-w-0 flex-1 flex-col gap-3 px-6 pt-4 max-sm:px-4">
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div className="min-w-0">
          <h1 className="text-2xl leading-tight">{title}</h1>
          <p className="text-quiet mt-0.5">{whereWords(step)}</p>
        </div>
        <div className="flex items-center gap-5">
          <StatusMark status={state.status} withWord size={22} />
          <span className="text-quiet">
            {index + 1} of {run.steps.length}
          </span>
        </div>
      </div>
      {stops.map((finding) => (
        <div key={finding.text} className="border-stop rounded-md border-2 p-4">
          <FindingLine finding={finding} large />
          <div className="mt-3 ml-9 flex flex-wrap gap-2">
            {isChannelStep(step) && step.hookup.verdict === 'below-minimum' && (
              <Link to={`/tunes/${tuneId}/wiring/${step.channel.id}`} className="btn">
                Plan the wiring
              </Link>
            )}
            {'channel' in step && bareTweeter(step.channel) !== undefined && (
              <Link to={`/tunes/${tuneId}/crossovers`} className="btn">
                Open the crossovers
              </Link>
            )}
            <Link to={`/tunes/${tuneId}/chain`} className="btn">
              Open the chain
            </Link>
          </div>
        </div>
      ))}
      <div className="grid items-start gap-5 lg:grid-cols-[minmax(0,1fr)_16.5rem]">
        <Suspense fallback={<Loading what="the step" />}>
          <Body run={run} current={current} />
        </Suspense>
        <div className="space-y-4">
          <Suspense fallback={null}>
            <Side run={run} current={current} benchOpen={benchOpen && hasBench} />
          </Suspense>
          <div className="flex flex-wrap gap-2">
            {hasBench && (
              <button type="button" className="btn flex-1" onClick={() => dispatch(benchToggled())}>
                {benchOpen ? 'Close the bench' : 'Simulated bench'} <kbd className="key">b</kbd>
              </button>
            )}
            <SkipStep run={run} current={current} />
          </div>
        </div>
      </div>
      <div className="bg-ground sticky bottom-0 -mx-6 mt-auto px-6 pt-2 pb-3 max-sm:-mx-4 max-sm:px-4">
        {levels.length > 0 && <LevelPath title={pathTitle(run, step)} stages={levels} folded={FOLDED_KINDS.includes(step.kind)} />}
      </div>
    </main>
  );
}

/** Nothing on the path changes at these steps. */
const FOLDED_KINDS: readonly StepKind[] = ['coils', 'whole', 'hookup', 'flat', 'ceiling', 'factory', 'input', 'filters', 'crossover'];
const BENCHLESS_KINDS: readonly StepKind[] = ['hookup', 'flat', 'filters'];

/** Where the hands are at a step. */
function whereWords(step: Step): string {
  switch (step.kind) {
    case 'flat':
      return 'Source: everything neutral before anything is measured';
    case 'ceiling':
      return 'Source: how far the volume may go';
    case 'factory':
      return 'Source: what it does to the signal before anyone else does';
    case 'input':
    case 'output':
      return step.processor.name;
    default:
      return `${step.amplifier.name}, ${step.channel.terminals}`;
  }
}

function pathTitle(run: TuneRun, step: Step): string {
  if ('channel' in step) return step.channel.name;
  return run.steps.map((s) => s.step).find(isChannelStep)?.channel.name ?? '';
}

function Body({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element {
  const { step } = current;
  switch (step.kind) {
    case 'coils':
      return <CoilsStep run={run} current={{ ...current, step }} />;
    case 'whole':
      return <WholeStep run={run} current={{ ...current, step }} />;
    case 'hookup':
      return <HookupStep run={run} current={{ ...current, step }} />;
    case 'flat':
      return <FlatStep run={run} current={{ ...current, step }} />;
    case 'ceiling':
      return <CeilingStep run={run} current={{ ...current, step }} />;
    case 'factory':
      return <FactoryStep run={run} current={{ ...current, step }} />;
    case 'input':
      return <InputStep run={run} current={{ ...current, step }} />;
    case 'output':
      return <OutputStep run={run} current={{ ...current, step }} />;
    case 'filters':
      return <FiltersStep run={run} current={{ ...current, step }} />;
    case 'crossover':
      return <CrossoverStep run={run} current={{ ...current, step }} />;
    case 'gain':
      return <GainStep run={run} current={{ ...current, step }} />;
    case 'proof':
      return <ProofStep run={run} current={{ ...current, step }} />;
  }
}

/** Beside the step: the bench to practise on, or what has to hold while it is read. */
function Side({ run, current, benchOpen }: { run: TuneRun; current: RunStep; benchOpen: boolean }): JSX.Element | null {
  const { step } = current;
  switch (step.kind) {
    case 'coils':
    case 'whole':
      return benchOpen ? <OhmBench run={run} current={{ ...current, step }} /> : <LoadFacts run={run} current={{ ...current, step }} />;
    case 'hookup':
      return <LoadFacts run={run} current={{ ...current, step }} />;
    case 'filters':
      return <ConditionsPanel run={run} step={step} />;
    case 'crossover':
      return benchOpen ? <FilterBench run={run} step={step} /> : <ConditionsPanel run={run} step={step} />;
    case 'gain':
    case 'proof':
      return benchOpen ? <BenchPanel run={run} current={{ ...current, step }} /> : <ConditionsPanel run={run} step={step} />;
    case 'ceiling':
      return benchOpen ? <SourceBench run={run} step={step} /> : <ConditionsPanel run={run} step={step} />;
    case 'factory':
      return benchOpen ? <SweepBench run={run} /> : <ConditionsPanel run={run} step={step} />;
    case 'input':
    case 'output':
      return benchOpen ? <ProcessorBench run={run} step={step} /> : <ConditionsPanel run={run} step={step} />;
    case 'flat':
      return <SourceFacts run={run} />;
  }
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
