import {
  coilAfter,
  coilConditions,
  coilWords,
  formatQuantity,
  nextCoil,
  OVERLOAD_OHM,
  whyMeterReadsLess,
  type MeteredCoil,
} from '@yield/core';
import { useState, type JSX } from 'react';
import { bandWords } from '../../loads/DiagnosisView.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { GradeMark } from '../../ui/StatusMark.tsx';
import { FigureEntry } from '../kit/FigureEntry.tsx';
import { LeadField } from '../kit/LeadField.tsx';
import { TakeWinding } from '../kit/TakeWinding.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { useEnterReading } from '../kit/useEnterReading.ts';

/** Measure every coil alone, its jumpers off. */
export function CoilsBody({ run, current }: ViewProps<'coils'>): JSX.Element {
  const { step, state } = current;
  const { coils } = state.figures;
  // The place moves with Enter and with a tap alone, never because a reading came in.
  const [place, setPlace] = useState(() => nextCoil(coils)?.name);
  const coil = coils.find(({ name }) => name === place) ?? nextCoil(coils);
  const enterReading = useEnterReading(run.tune.id);
  return (
    <div className="min-w-0 space-y-4">
      <p>Jumpers removed, amplifier disconnected. The single coils predict the resistance of the whole wiring.</p>
      <LeadField run={run} />
      <div className="grid gap-x-8 gap-y-4 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)]">
        <div>
          {coil !== undefined && (
            <FigureEntry
              draftKey={`reading/${run.tune.id}/${step.id}/${coil.name}`}
              unit="ohm"
              label={`${coilWords(coil, coils)} reads`}
              main
              negativeWords="A coil never reads below zero."
              overload={OVERLOAD_OHM}
              likely={{ atLeast: coil.nominalOhm / 4, atMost: 4 * coil.nominalOhm }}
              onEnter={(value, resolution) => {
                enterReading({
                  stepId: step.id,
                  kind: 'coil-resistance',
                  value,
                  resolution,
                  conditions: coilConditions(coil, run.now),
                });
                setPlace(coilAfter(coils, coil).name);
              }}
            />
          )}
        </div>
        <CoilTable coils={coils} current={coil?.name} onChoose={setPlace} />
      </div>
      <Verdict findings={state.findings}>
        {state.action?.kind === 'take-winding' && <TakeWinding run={run} action={state.action} words="Accept this winding" />}
      </Verdict>
      <Reveal summary={`Why a ${formatQuantity(coil?.nominalOhm ?? 4, 'ohm')} coil reads less`}>
        <p className="max-w-prose leading-snug">{whyMeterReadsLess(coil?.nominalOhm ?? 4)}</p>
      </Reveal>
    </div>
  );
}

function CoilTable({
  coils,
  current,
  onChoose,
}: {
  coils: readonly MeteredCoil[];
  current: string | undefined;
  onChoose: (name: string) => void;
}): JSX.Element {
  return (
    <ul className="border-line divide-line divide-y border-y self-start">
      {coils.map((coil) => {
        const { name, nominalOhm, judgement } = coil;
        const sound = judgement?.verdict === 'sound';
        return (
          <li key={name}>
            <button
              type="button"
              aria-pressed={name === current}
              onClick={() => onChoose(name)}
              className={`grid min-h-11 w-full cursor-pointer grid-cols-[1.5rem_4.5rem_minmax(0,1fr)_auto] items-center gap-3 px-2 text-left ${name === current ? 'bg-raised' : 'hover:bg-raised'}`}
            >
              <GradeMark grade={judgement === undefined ? 'note' : sound ? 'good' : judgement.finding.grade} size={18} />
              <span className="font-semibold whitespace-nowrap">{coilWords(coil, coils)}</span>
              <span className="text-quiet truncate text-sm">{formatQuantity(nominalOhm, 'ohm')} nominal</span>
              <span className="text-right whitespace-nowrap">
                {judgement === undefined ? (
                  <span className="text-quiet text-sm">not read yet</span>
                ) : (
                  <>
                    <span className="font-semibold">{judgement.verdict === 'open' ? 'OL' : formatQuantity(judgement.coilOhm, 'ohm')}</span>{' '}
                    <span className="text-quiet text-sm max-sm:hidden">of {bandWords(judgement.expectedOhm)}</span>
                  </>
                )}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
