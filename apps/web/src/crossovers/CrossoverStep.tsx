import {
  acceptedBasis,
  conditionsNow,
  filterWords,
  formatQuantity,
  foundFilter,
  lineConditionsNow,
  LONG_SWEEP,
  parseQuantity,
  provedSettingNow,
  toneStart,
  type CrossoverStep as CrossoverStepType,
  type FilterProof,
  type ProofPoint,
} from '@yield/core';
import { RotateCcw } from 'lucide-react';
import { useEffect, useState, type JSX } from 'react';
import { Link } from 'react-router';
import { useSaveMarkMutation } from '../api/yieldApi.ts';
import { Checks } from '../run/Checks.tsx';
import { FigureEntry } from '../run/FigureEntry.tsx';
import { FiltersSeen, filtersSeen } from '../run/FiltersSeen.tsx';
import { ReadingLog } from '../run/ReadingLog.tsx';
import { Tone } from '../run/Tone.tsx';
import { useEnterReading } from '../run/useEnterReading.ts';
import type { RunStep, TuneRun } from '../run/useTuneRun.ts';
import { TraceDrop } from '../trace/TraceDrop.tsx';
import { TraceLog } from '../trace/TraceLog.tsx';
import { useTakeCapture } from '../trace/useTakeCapture.ts';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { ProofChart } from './ProofChart.tsx';

const CHECKS = [
  { id: 'gain-low', words: 'gain at its lowest' },
  { id: 'drivers-off', words: 'drivers disconnected' },
];

/** One filter, measured: a voltage at each of a row of tones, and what they say of its corner and slope. */
export function CrossoverStep({ run, current }: { run: TuneRun; current: RunStep<CrossoverStepType> }): JSX.Element {
  const { step, state } = current;
  const { chain, settings } = run.tune;
  const { rules } = settings;
  const { marks } = run.records;
  const enterReading = useEnterReading(run.tune.id);
  const figures = state.crossover!;
  const [begun, setBegun] = useDraft(`series/${run.tune.id}/${step.id}/${filterWords(step.filter)}`);
  const [chosen, setChosen] = useState<number | null>(null);
  const series = Math.max(figures.proof.series, Number(begun) || 1);
  const isAnew = series > figures.proof.series;
  const proof: FilterProof = isAnew ? { filter: step.filter, series, from: 'voltages', points: [], fitPoints: [] } : figures.proof;
  const proposedHz = [...figures.proposedHz, ...(isAnew || figures.tellingHz === undefined ? [] : [figures.tellingHz])];
  const nextHz = isAnew ? proposedHz[0] : figures.nextHz;
  const atHz = chosen ?? nextHz ?? step.filter.cornerHz;
  // The bench beside plays what the step asks for.
  const [, setBenchTone] = useDraft(`bench/${run.tune.id}/filter-tone`);
  useEffect(() => setBenchTone(String(atHz)), [atHz, setBenchTone]);
  const capture = useTakeCapture({
    run,
    stepId: step.id,
    conditions: () => ({
      ...lineConditionsNow(step, chain.body, rules, marks),
      sweep: { ...LONG_SWEEP, labels: [step.channel.name] },
      filter: provedSettingNow(step, series),
    }),
  });
  // With the gain at its lowest, what the terminals show is not known beforehand.
  const start = toneStart(step);
  const findings = isAnew ? [] : state.findings.filter(({ grade }) => grade !== 'stop');
  const isWrong = !isAnew && state.status === 'out-of-tolerance';
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} checks={CHECKS}>
        <FiltersSeen run={run} channel={step.channel} />
      </Checks>
      <div className="grid gap-x-6 gap-y-3 md:grid-cols-[minmax(0,15rem)_auto_minmax(0,1fr)]">
        <FigureEntry
          draftKey={`reading/${run.tune.id}/${step.id}/${atHz}`}
          unit="V"
          label={`Meter at ${formatQuantity(atHz, 'Hz')}`}
          main
          negativeWords="A meter on AC never reads below zero. Is it on DC volts?"
          onEnter={(value, resolution) => {
            enterReading({
              stepId: step.id,
              kind: 'filter-voltage',
              value,
              resolution,
              conditions: { ...conditionsNow(step, chain.body, rules, marks), toneHz: atHz, filter: provedSettingNow(step, series) },
            });
            setChosen(null);
          }}
        />
        <Tone
          hertz={atHz}
          levelDbfs={rules.toneLevelDbfs}
          isLocked={!filtersSeen(run, step.channel)}
          start={start === undefined ? undefined : { levelDb: start.levelDb }}
        />
        <Points proposedHz={proposedHz} points={proof.from === 'sweep' ? [] : proof.points} atHz={atHz} onChoose={setChosen} />
      </div>
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {findings.length === 0 ? (
          <p className="text-quiet">
            Probes on the terminals {step.channel.terminals}, AC volts. Play each tone at one volume, and type what the meter reads.
          </p>
        ) : (
          findings.map((finding, i) => <FindingLine key={finding.text} finding={finding} large={i === 0} />)
        )}
        {proof.points.length > 0 && (
          <div className="flex flex-wrap gap-2">
            <button
              type="button"
              className={`btn btn-tall ${isWrong ? 'btn-primary' : ''}`}
              onClick={() => {
                setBegun(String(series + 1));
                setChosen(null);
              }}
            >
              <RotateCcw size={18} aria-hidden /> {isWrong ? 'Put right: read anew' : 'Read anew'}
            </button>
            {isWrong && <TakeIt run={run} step={step} proof={proof} />}
            <Link to={`/tunes/${run.tune.id}/crossovers`} className="btn btn-tall">
              Change the crossovers
            </Link>
          </div>
        )}
      </div>
      <ProofChart filter={step.filter} proof={proof} />
      <Reveal summary="By a sweep instead">
        <p className="text-quiet mb-2 max-w-prose">
          Play the ten-second sweep of the tone set, and record the terminals through a divider or a probe: one capture has every frequency,
          also those that a meter cannot read.
        </p>
        <TraceDrop label="Capture of the sweep" capture={capture} />
        <TraceLog run={run} stepId={step.id} />
      </Reveal>
      <Caution>
        Drivers off while a filter is measured: tones below a tweeter’s range destroy it. Connect nothing while a tone plays: sparks. The
        amplifier’s manual, local codes and licensed practice come first.
      </Caution>
      <ReadingLog run={run} stepId={step.id} />
    </div>
  );
}

/** The row of tones: what was read, and which is next. */
function Points({
  proposedHz,
  points,
  atHz,
  onChoose,
}: {
  proposedHz: readonly number[];
  points: readonly ProofPoint[];
  atHz: number;
  onChoose: (hertz: number) => void;
}): JSX.Element {
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const all = [...new Set([...proposedHz, ...points.map(({ frequencyHz }) => frequencyHz), atHz])].sort((a, b) => a - b);
  const add = (): void => {
    const parsed = parseQuantity(text, 'Hz');
    if (parsed.kind === 'empty') return;
    if (parsed.kind === 'fault' || parsed.value < 5 || parsed.value > 24_000) {
      setFault(parsed.kind === 'fault' ? parsed.message : 'A tone lies between 5 Hz and 24 kHz.');
      return;
    }
    onChoose(parsed.value);
    setText('');
    setFault(null);
  };
  return (
    <div className="min-w-0">
      <p className="label mb-1">Tones, {points.filter(({ leftOut }) => leftOut === undefined).length} read</p>
      <ul className="flex flex-wrap gap-1.5">
        {all.map((hertz) => {
          const point = points.find(({ frequencyHz }) => frequencyHz === hertz);
          return (
            <li key={hertz}>
              <button
                type="button"
                aria-pressed={hertz === atHz}
                onClick={() => onChoose(hertz)}
                className={`min-h-12 cursor-pointer rounded-md border px-2.5 py-1 text-left text-sm leading-tight ${hertz === atHz ? 'border-action border-2' : 'border-line'} ${point?.leftOut === undefined ? '' : 'text-quiet line-through'}`}
              >
                <span className="block font-semibold">{formatQuantity(hertz, 'Hz')}</span>
                <span className="text-quiet block">{point === undefined ? '–' : formatQuantity(point.voltageRms, 'V')}</span>
              </button>
            </li>
          );
        })}
        <li>
          <input
            aria-label="Another tone, in hertz"
            placeholder="other Hz"
            className={`bg-ground min-h-12 w-24 rounded-md border px-2.5 text-sm ${fault === null ? 'border-line' : 'border-stop'}`}
            value={text}
            inputMode="decimal"
            onChange={(event) => {
              setText(event.target.value);
              setFault(null);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter') add();
              if (event.key === 'Escape') event.currentTarget.blur();
            }}
            onBlur={add}
          />
        </li>
      </ul>
      {fault !== null && (
        <p role="alert" className="text-stop mt-1 text-sm">
          {fault}
        </p>
      )}
    </div>
  );
}

/** The dial is off and stays: what follows counts with what was measured. */
function TakeIt({ run, step, proof }: { run: TuneRun; step: CrossoverStepType; proof: FilterProof }): JSX.Element | null {
  const [saveMark] = useSaveMarkMutation();
  const found = foundFilter(proof);
  const mark = run.tune.marks.find(({ stepId }) => stepId === step.id);
  if (found === undefined) return null;
  return (
    <button
      type="button"
      className="btn btn-tall"
      onClick={() =>
        void saveMark({
          id: run.tune.id,
          stepId: step.id,
          body: {
            version: mark?.version ?? 0,
            checks: [...(mark?.checks ?? []).filter((each) => each !== 'accepted'), 'accepted'],
            basis: acceptedBasis(found),
            ...(mark?.skippedReason === undefined ? {} : { skippedReason: mark.skippedReason }),
          },
        })
      }
    >
      Take it as it is: {formatQuantity(found.cornerHz, 'Hz')}
    </button>
  );
}
