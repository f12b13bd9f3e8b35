import {
  curveConditions,
  ENTERED,
  formatQuantity,
  KEPT,
  LONG_SWEEP,
  responseConditions,
  USUAL_TARGET_LEVEL_DB,
  type Channel,
  type Fault,
  type ResponseTarget,
} from '@yield/core';
import { useId, type JSX } from 'react';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { useMark } from '../../tune/useMark.ts';
import { useEditChain } from '../../tune/useEdit.ts';
import type { FieldSpec } from '../../ui/forms/fields.ts';
import { CurveText } from '../../ui/forms/CurveText.tsx';
import { RecordForm } from '../../ui/forms/RecordForm.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { Checks } from '../kit/Checks.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { Equaliser } from './Equaliser.tsx';
import { LiveSweep } from './LiveSweep.tsx';
import { MicrophonePlan } from './MicrophonePlan.tsx';
import { Recorded } from './Recorded.tsx';
import { placesFrom, USUAL_PLACES, usePlace } from './places.ts';

const TARGET_FIELDS: FieldSpec<ResponseTarget>[] = [
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'fromHz',
    label: 'Correct from',
    optional: true,
    hint: 'Without it, where its filters let through',
  },
  { kind: 'quantity', unit: 'Hz', name: 'toHz', label: 'To', optional: true },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'tiltDb',
    label: 'Tilt, an octave',
    optional: true,
    hint: 'Below 0 falls towards the top, such as -0.8',
  },
  { kind: 'quantity', unit: 'dB', name: 'shelfDb', label: 'Bass shelf', optional: true, hint: 'What the bass stands above the rest' },
  { kind: 'quantity', unit: 'Hz', name: 'shelfHz', label: 'Its corner', optional: true },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'levelDb',
    label: 'Level of what is wanted',
    optional: true,
    hint: `Against the response’s own mean; without it ${USUAL_TARGET_LEVEL_DB} dB, where cuts do most of the work`,
  },
];

/** Sweeps of one channel at several places, against what is wanted; an equaliser where it is wise; and measured again. */
export function ResponseBody({ run, current }: ViewProps<'response'>): JSX.Element {
  const { step, state } = current;
  const { figures } = state;
  const { channel } = step;
  const placeId = useId();
  const [placeText, setPlace] = usePlace(current.id, figures.present);
  const places = placesFrom(placeText);
  const { editLatest: change } = useEditChain(run.tune);
  const capture = useTakeCapture({
    run,
    stepId: step.id,
    // A recording is samples; a text is a response that another program measured.
    conditions: (file) =>
      /\.wav$/i.test(file.name) ? responseConditions(step, run.now, places) : curveConditions(step, run.now, places[0]!),
    // On to the next one; what was no sweep leaves its place open.
    onTaken: () => setPlace(null),
  });
  const changeChannel = (changed: (channel: Channel) => Channel): Promise<Fault[]> =>
    change((body) => ({ ...body, channels: body.channels.map((each) => (each.id === channel.id ? changed(each) : each)) }));
  const { ticked, toggle } = useMark(run, current);
  const isSet = (channel.equaliser ?? []).length > 0;
  const { present, before, target } = figures;
  // Bands that were just taken are seen on what was measured before them, until it is measured again.
  const shown = present.average ?? before.average;
  return (
    <div className="min-w-0 space-y-4">
      <Checks run={run} current={current} />
      <div className="grid items-start gap-x-8 gap-y-4 md:grid-cols-[minmax(0,20rem)_minmax(0,1fr)]">
        <div className="space-y-3">
          <div>
            <label htmlFor={placeId} className="label mb-1 block">
              Microphone position
            </label>
            <input
              id={placeId}
              className="input min-h-11 w-full"
              list={`${placeId}-usual`}
              value={placeText}
              maxLength={200}
              onChange={(event) => setPlace(event.target.value)}
            />
            <datalist id={`${placeId}-usual`}>
              {USUAL_PLACES.map((place) => (
                <option key={place} value={place} />
              ))}
            </datalist>
            <p className="text-quiet mt-1 text-sm">
              Several microphones at once: their places between commas, in the order of the channels.
            </p>
          </div>
          <TraceDrop label="Recording of its sweep" wanted="WAV, or a table" capture={capture} withRails={false} />
          <LiveSweep gate={current.gate} onRecorded={(file) => void capture.take(file)} />
          {present.places.length > 0 && <Recorded places={present.places} quality={figures.quality} />}
        </div>
        <div className="space-y-5">
          <Verdict
            findings={state.findings}
            hint={`Play the sweep of the tone set (${LONG_SWEEP.seconds} s, ${formatQuantity(LONG_SWEEP.fromHertz, 'Hz')} to ${formatQuantity(LONG_SWEEP.toHertz, 'Hz')}) through this channel alone, first softly, and record it where the listener’s head is. Three places tell the cabin from the place.`}
          />
          {present.places.length > 0 && (
            <MicrophonePlan
              chain={run.tune.chain.body}
              places={present.places.map(({ place }) => place)}
              onPlan={(plan) => void change((body) => ({ ...body, listening: { ...body.listening, plan } }))}
            />
          )}
        </div>
      </div>
      {shown !== undefined && target !== undefined && (
        <Equaliser
          run={run}
          current={current}
          average={shown}
          target={target}
          figures={figures}
          onSet={(bands) =>
            changeChannel(({ equaliser: _old, ...rest }) => (bands.length === 0 ? rest : { ...rest, equaliser: [...bands] }))
          }
          onDrawn={(points) =>
            void changeChannel(({ responseTarget, ...rest }) => ({ ...rest, responseTarget: { ...responseTarget, points } }))
          }
          onAtHand={(equaliserAtHand) => void change((body) => ({ ...body, equaliserAtHand }))}
        />
      )}
      {present.average !== undefined && (
        <div className="flex flex-wrap gap-x-8 gap-y-1">
          {isSet && <Said words="EQ entered in the processor" isSaid={ticked.has(ENTERED)} onSay={() => toggle(ENTERED)} />}
          <Said words="Keep this result" isSaid={ticked.has(KEPT)} onSay={() => toggle(KEPT)} />
        </div>
      )}
      <Reveal summary="Target curve">
        <RecordForm
          draftKey={`response-target/${run.tune.id}/${channel.id}`}
          fields={TARGET_FIELDS}
          value={withoutPoints(channel.responseTarget)}
          submitLabel="Use it"
          onSubmit={(wanted) =>
            changeChannel(({ responseTarget: old, ...rest }) => {
              const next = { ...wanted, ...(old?.points === undefined ? {} : { points: old.points }) };
              return Object.keys(next).length === 0 ? rest : { ...rest, responseTarget: next };
            })
          }
        />
        <div className="mt-5">
          <CurveText
            draftKey={`response-points/${run.tune.id}/${channel.id}`}
            label="Or a curve: frequency and decibels in each line"
            value={channel.responseTarget?.points}
            placeholder={'20  6\n80  3\n200  0\n16000  -4'}
            submitLabel="Use this curve"
            onSubmit={(points) =>
              changeChannel(({ responseTarget: { points: _old, ...kept } = {}, ...rest }) => {
                const next = { ...kept, ...(points === undefined ? {} : { points }) };
                return Object.keys(next).length === 0 ? rest : { ...rest, responseTarget: next };
              })
            }
          />
          <p className="text-quiet mt-1 text-sm">
            Added to tilt and shelf. Without any of them the house curve applies, if the house rules have one.
          </p>
        </div>
      </Reveal>
    </div>
  );
}

/** The form has the figures; the curve has a field of its own. */
const withoutPoints = ({ points: _own, ...rest }: ResponseTarget = {}): ResponseTarget => rest;

const Said = ({ words, isSaid, onSay }: { words: string; isSaid: boolean; onSay: () => void }): JSX.Element => (
  <label className="flex min-h-11 cursor-pointer items-center gap-2.5">
    <input type="checkbox" className="checkbox checkbox-primary" checked={isSaid} onChange={onSay} />
    <span className="font-medium">{words}</span>
  </label>
);
