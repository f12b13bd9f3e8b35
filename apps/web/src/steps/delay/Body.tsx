import { fixed, formatQuantity, USUAL_DELAY_STEP_SECOND, type DelayRow, type Listening, type Polarity } from '@yield/core';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import { useDraft, readQuantity } from '../../ui/useDraft.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { Checks } from '../kit/Checks.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { stepsOfKind } from '../../tune/useTuneRun.ts';
import { FromAbove } from './FromAbove.tsx';
import { BySweep } from './BySweep.tsx';

const STEPS: readonly { words: string; second: number }[] = [
  { words: 'a sample at 48 kHz', second: USUAL_DELAY_STEP_SECOND },
  { words: 'a sample at 96 kHz', second: 1 / 96_000 },
  { words: '0.01 ms', second: 0.000_01 },
  { words: '0.1 ms', second: 0.0001 },
];
const TO_HEAD = { driver: 'To the driver’s head', middle: 'To the middle, between the heads', both: 'To the driver’s head' } as const;
/** Nothing in a vehicle is further away. */
const MAX_METRE = 15;

/** Delays by tape measure and by sweep: what each says of every channel, and what to enter in the processor. */
export function DelayBody({ run, current }: ViewProps<'delay'>): JSX.Element {
  const { rows, speedOfSound, from } = current.state.figures;
  const { editLatest } = useEditChain(run.tune);
  const [fault, setFault] = useState<string>();
  const { body } = run.tune.chain;
  const { listening = {} } = body;
  type Changes = { [F in keyof Listening]?: Listening[F] | undefined };
  const store = async (changes: Changes | ((now: Listening) => Changes)): Promise<void> => {
    const faults = await editLatest((present) => {
      const now = present.listening ?? {};
      const made = { ...now, ...(typeof changes === 'function' ? changes(now) : changes) };
      return { ...present, listening: Object.fromEntries(Object.entries(made).filter(([, value]) => value !== undefined)) };
    });
    setFault(faults[0]?.message);
  };
  const polarities = stepsOfKind(run, 'polarity');
  const polarityOf = (channelId: string): Polarity | undefined =>
    polarities.find(({ step, state }) => step.channel.id === channelId && state.figures.found !== undefined)?.state.figures.found;
  const hasSweeps = rows.some(({ arrivalSecond }) => arrivalSecond !== undefined);
  const { stepSecond = USUAL_DELAY_STEP_SECOND, longestSecond, temperatureCelsius = 20, seat = 'driver' } = listening;
  return (
    <div className="min-w-0 space-y-5">
      <Checks run={run} current={current} />
      <Verdict findings={current.state.findings} />
      <div className="overflow-x-auto">
        <table className="w-full min-w-xl text-left">
          <thead>
            <tr className="text-quiet text-sm">
              <th className="py-1 pr-4 font-medium">Channel</th>
              <th className="pr-4 font-medium">{TO_HEAD[seat]}</th>
              {seat === 'both' && <th className="pr-4 font-medium">To the passenger’s</th>}
              {hasSweeps && <th className="px-3 text-right font-medium">By sweep</th>}
              <th className="px-3 text-right font-medium">Delay</th>
              <th className="px-3 text-right font-medium">as distance</th>
              <th className="pl-3 text-right font-medium">remaining</th>
            </tr>
          </thead>
          <tbody className="divide-line border-line divide-y border-y">
            {rows.map((row) => (
              <Row
                key={row.channelId}
                row={row}
                draftKey={`delay/${run.tune.id}/${row.channelId}`}
                speed={speedOfSound}
                withSweep={hasSweeps}
                withPassenger={seat === 'both'}
                onPassenger={(metre) => void store((now) => ({ passengerMetre: { ...now.passengerMetre, [row.channelId]: metre } }))}
                onStore={(metre) => void store((now) => ({ distancesMetre: { ...now.distancesMetre, [row.channelId]: metre } }))}
              />
            ))}
          </tbody>
        </table>
      </div>
      {fault !== undefined && (
        <p role="alert" className="text-stop">
          {fault}
        </p>
      )}
      <div className="grid items-start gap-6 md:grid-cols-[minmax(0,1fr)_16rem]">
        <div className="min-w-0 space-y-5">
          <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
            <ChoiceField
              label="Listening place"
              value={seat}
              onChange={(next) => void store({ seat: next })}
              choices={[
                { value: 'driver', label: 'driver' },
                { value: 'middle', label: 'middle' },
                { value: 'both', label: 'driver and passenger' },
              ]}
            />
            <label className="block">
              <span className="label mb-1 block">The processor’s step</span>
              <select
                className="select min-h-11 w-48"
                value={`${stepSecond}`}
                onChange={(event) => void store({ stepSecond: Number(event.target.value) })}
              >
                {[
                  ...STEPS,
                  ...(STEPS.some(({ second }) => second === stepSecond)
                    ? []
                    : [{ words: `${fixed(stepSecond * 1000, 3)} ms`, second: stepSecond }]),
                ].map(({ words, second }) => (
                  <option key={second} value={`${second}`}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
            <Small
              label="Its longest delay"
              sign="ms"
              draftKey={`delay/${run.tune.id}/longest`}
              value={longestSecond === undefined ? '' : `${Number((longestSecond * 1000).toPrecision(6))}`}
              onStore={(figure) => void store({ longestSecond: figure === undefined ? undefined : figure / 1000 })}
            />
            <Small
              label="Air in the cabin"
              sign="°C"
              draftKey={`delay/${run.tune.id}/temperature`}
              value={`${temperatureCelsius}`}
              onStore={(figure) => void store({ temperatureCelsius: figure })}
            />
            {hasSweeps && (
              <ChoiceField
                label="Delays are told from"
                value={from}
                onChange={(delaysFrom) => void store({ delaysFrom })}
                choices={[
                  { value: 'tape', label: 'the tape measure' },
                  { value: 'sweep', label: 'the sweeps' },
                ]}
              />
            )}
            <p className="text-quiet pb-2.5 text-sm">Sound travels {fixed(speedOfSound, 1)} m a second there.</p>
          </div>
          <BySweep run={run} current={current} />
        </div>
        <FromAbove chain={body} rows={rows} speed={speedOfSound} polarityOf={polarityOf} onPlan={(plan) => void store({ plan })} />
      </div>
    </div>
  );
}

function Row({
  row,
  draftKey,
  speed,
  withSweep,
  withPassenger,
  onStore,
  onPassenger,
}: {
  row: DelayRow;
  draftKey: string;
  speed: number;
  withSweep: boolean;
  withPassenger: boolean;
  onStore: (metre: number) => void;
  onPassenger: (metre: number) => void;
}): JSX.Element {
  return (
    <tr>
      <th scope="row" className="py-1.5 pr-4 font-medium">
        {row.name}
      </th>
      <td className="py-1.5 pr-4">
        <Distance label={row.name} stored={row.distanceMetre} draftKey={draftKey} onStore={onStore} />
      </td>
      {withPassenger && (
        <td className="py-1.5 pr-4">
          <Distance
            label={`${row.name}, to the passenger`}
            stored={row.passengerMetre}
            draftKey={`${draftKey}/passenger`}
            onStore={onPassenger}
          />
        </td>
      )}
      {withSweep && (
        <td className="text-quiet px-3 text-right whitespace-nowrap">
          {row.bySweepSecond === undefined ? '–' : `${fixed(row.bySweepSecond * 1000, 2)} ms`}
        </td>
      )}
      <td className="px-3 text-right text-lg font-semibold whitespace-nowrap">
        {row.setSecond === undefined ? '–' : `${fixed(row.setSecond * 1000, 2)} ms`}
      </td>
      <td className="px-3 text-right whitespace-nowrap">
        {row.setSecond === undefined ? '–' : `${fixed(row.setSecond * speed * 100, 1)} cm`}
      </td>
      <td className="text-quiet pl-3 text-right whitespace-nowrap">
        {row.leftSecond === undefined ? '' : `${fixed(row.leftSecond * 1000, 3)} ms`}
      </td>
    </tr>
  );
}

/** A way in metres, kept as one leaves the field. */
function Distance({
  label,
  stored,
  draftKey,
  onStore,
}: {
  label: string;
  stored: number | undefined;
  draftKey: string;
  onStore: (metre: number) => void;
}): JSX.Element {
  const [text, setText] = useDraft(draftKey, stored === undefined ? '' : `${stored}`);
  const { value, fault } = readQuantity(text, 'm');
  const words = fault ?? (value !== undefined && value > MAX_METRE ? `${formatQuantity(value, 'm')} is longer than a vehicle.` : undefined);
  const enter = (): void => {
    if (value === undefined || words !== undefined) return;
    if (value !== stored) onStore(value);
    setText(null);
  };
  return (
    <>
      <span className={`input min-h-11 w-28 ${words === undefined || text === '' ? '' : 'input-error'}`}>
        <input
          aria-label={label}
          className="min-w-0 grow font-medium"
          inputMode="decimal"
          autoComplete="off"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={enter}
          onKeyDown={(event) => event.key === 'Enter' && enter()}
        />
        <span className="text-quiet">m</span>
      </span>
      {words !== undefined && text !== '' && <p className="text-stop mt-1 text-sm">{words}</p>}
    </>
  );
}

/** A small figure that is stored as one leaves it; empty takes it out. */
function Small({
  label,
  sign,
  draftKey,
  value,
  onStore,
}: {
  label: string;
  sign: string;
  draftKey: string;
  value: string;
  onStore: (figure: number | undefined) => void;
}): JSX.Element {
  const [text, setText] = useDraft(draftKey, value);
  const enter = (): void => {
    const figure = Number(text.replace(',', '.').replace('−', '-'));
    if (text.trim() !== '' && !Number.isFinite(figure)) return;
    if (text !== value) onStore(text.trim() === '' ? undefined : figure);
    setText(null);
  };
  return (
    <label className="block">
      <span className="label mb-1 block">{label}</span>
      <span className="input min-h-11 w-28">
        <input
          className="min-w-0 grow font-medium"
          inputMode="decimal"
          autoComplete="off"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={enter}
          onKeyDown={(event) => event.key === 'Enter' && enter()}
        />
        <span className="text-quiet">{sign}</span>
      </span>
    </label>
  );
}
