import {
  acceptedBasis,
  filterWords,
  formatQuantity,
  foundFilter,
  lineConditions,
  loadConditions,
  LONG_SWEEP,
  parseQuantity,
  provedSettingNow,
  type FilterProof,
  type ProofPoint,
  loadAtGain,
} from '@yield/core';
import { RotateCcw } from 'lucide-react';
import { useEffect, useState, type JSX } from 'react';
import { Link } from 'react-router';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { useMark } from '../../tune/useMark.ts';
import { Reveal } from '../../ui/Reveal.tsx';
import { useDraft } from '../../ui/useDraft.ts';
import { Checks } from '../kit/Checks.tsx';
import { FigureEntry } from '../kit/FigureEntry.tsx';
import { Tone } from '../kit/Tone.tsx';
import { useEnterReading } from '../kit/useEnterReading.ts';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { ProofChart } from './ProofChart.tsx';

/** One filter, measured: a voltage at each of a row of tones, and what they say of its corner and slope. */
export function CrossoverBody({ run, current }: ViewProps<'crossover'>): JSX.Element {
  const { step, state } = current;
  const { rules } = run.tune.settings;
  const enterReading = useEnterReading(run.tune.id);
  const { figures } = state;
  const [begun, setBegun] = useDraft(`series/${run.tune.id}/${step.id}/${filterWords(step.filter)}`);
  const [chosen, setChosen] = useState<number | null>(null);
  const series = Math.max(figures.proof.series, Number(begun) || 1);
  const isAnew = series > figures.proof.series;
  const proof: FilterProof = isAnew ? { filter: step.filter, series, from: 'voltages', points: [], fitPoints: [] } : figures.proof;
  const proposedHz = [...figures.proposedHz, ...(isAnew || figures.tellingHz === undefined ? [] : [figures.tellingHz])];
  const nextHz = isAnew ? proposedHz[0] : figures.nextHz;
  // With nothing left to read it stays where the last figure was typed.
  const [lastHz, setLastHz] = useState<number | null>(null);
  const atHz = chosen ?? nextHz ?? lastHz ?? step.filter.cornerHz;
  // The bench beside plays what the step asks for.
  const [, setBenchTone] = useDraft(`bench/${run.tune.id}/filter-tone`);
  useEffect(() => setBenchTone(String(atHz)), [atHz, setBenchTone]);
  const capture = useTakeCapture({
    run,
    stepId: step.id,
    conditions: () => ({
      ...lineConditions(run.now, step.toneHz),
      sweep: { ...LONG_SWEEP, labels: [step.channel.name] },
      filter: provedSettingNow(step.filter, series),
    }),
  });
  // With the gain at its lowest, what the terminals show is not known beforehand.
  const { start, ...gate } = current.gate;
  const findings = isAnew ? [] : state.findings;
  const isWrong = !isAnew && state.status === 'out-of-tolerance';
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} />
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
              conditions: {
                ...loadConditions(step, run.now, loadAtGain(rules)),
                toneHz: atHz,
                filter: provedSettingNow(step.filter, series),
              },
            });
            setLastHz(atHz);
            setChosen(null);
          }}
        />
        <Tone
          hertz={atHz}
          levelDbfs={step.toneLevelDbfs}
          gate={{ ...gate, ...(start === undefined ? {} : { start: { levelDb: start.levelDb } }) }}
        />
        <Points proposedHz={proposedHz} points={proof.from === 'sweep' ? [] : proof.points} atHz={atHz} onChoose={setChosen} />
      </div>
      <Verdict
        findings={findings}
        hint={`Probes on the terminals ${step.channel.terminals}, AC volts. Play each tone at one volume, and type what the meter reads.`}
      >
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
            {isWrong && <TakeIt run={run} current={current} proof={proof} />}
            <Link to={`/tunes/${run.tune.id}/crossovers`} className="btn btn-tall">
              Change the crossovers
            </Link>
          </div>
        )}
      </Verdict>
      <ProofChart filter={step.filter} proof={proof} />
      <Reveal summary="By a sweep instead">
        <p className="text-quiet mb-2 max-w-prose">
          Play the ten-second sweep of the tone set, and record the terminals through a divider or a probe: one capture has every frequency,
          also those that a meter cannot read.
        </p>
        <TraceDrop label="Capture of the sweep" capture={capture} />
      </Reveal>
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
      setFault(parsed.kind === 'fault' ? parsed.message : 'A tone must be between 5 Hz and 24 kHz.');
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
function TakeIt({ run, current, proof }: ViewProps<'crossover'> & { proof: FilterProof }): JSX.Element | null {
  const { ticked, save } = useMark(run, current);
  const found = foundFilter(proof);
  if (found === undefined) return null;
  const { key, words } = acceptedBasis(found);
  return (
    <>
      <button
        type="button"
        className="btn btn-tall"
        onClick={() => save({ checks: [...new Set([...ticked, 'accepted'])], basis: key, basisWords: words })}
      >
        Take it as it is: {formatQuantity(found.cornerHz, 'Hz')}
      </button>
    </>
  );
}
