import { bandwidthConditions, formatQuantity, signedDb, type ToneLook } from '@yield/core';
import { CircleCheck, CircleDashed, TriangleAlert } from 'lucide-react';
import { useState, type JSX } from 'react';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { Checks } from '../kit/Checks.tsx';
import { Probes } from '../kit/Probes.tsx';
import { Tone } from '../kit/Tone.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';

const STATE_WORDS: Record<ToneLook['state'], string> = {
  open: 'not captured yet',
  clean: 'clean',
  flat: 'clips',
  unclear: 'cannot say',
  raised: 'clean, but the gain went up since',
  older: 'captured before a change',
};

/** The channel at several tones of its range, a capture each: the next one is chosen, another can be. */
export function BandwidthBody({ run, current }: ViewProps<'bandwidth'>): JSX.Element {
  const { step, state } = current;
  const { looks, nextHz } = state.figures;
  const [chosenHz, setChosenHz] = useState<number>();
  const toneHz = looks.find((look) => look.toneHz === chosenHz)?.toneHz ?? nextHz ?? looks[0]?.toneHz ?? step.toneHz;
  const conditions = bandwidthConditions(step, run.now, toneHz);
  const capture = useTakeCapture({ run, stepId: step.id, conditions: () => conditions, onTaken: () => setChosenHz(undefined) });
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} />
      <div className="grid gap-x-6 gap-y-4 sm:grid-cols-[minmax(0,12.5rem)_minmax(0,1fr)_auto]">
        <Probes step={step} loadOn scope />
        <ul aria-label="Tones of this channel’s range" className="divide-line grid content-center divide-y">
          {looks.map((look) => (
            <li key={look.toneHz}>
              <button
                type="button"
                aria-pressed={look.toneHz === toneHz}
                className={`flex min-h-12 w-full flex-wrap items-center gap-x-3 rounded-md px-3 text-left ${look.toneHz === toneHz ? 'bg-raised' : 'hover:bg-raised'}`}
                onClick={() => setChosenHz(look.toneHz)}
              >
                <StateIcon state={look.state} />
                <span className="min-w-20 text-lg font-semibold whitespace-nowrap">{formatQuantity(look.toneHz, 'Hz')}</span>
                <span className="text-quiet">{STATE_WORDS[look.state]}</span>
                {look.apartDb !== undefined && Math.abs(look.apartDb) >= 0.1 && (
                  <span className="text-quiet ml-auto whitespace-nowrap">{signedDb(look.apartDb)} against its filters</span>
                )}
              </button>
            </li>
          ))}
        </ul>
        <Tone hertz={toneHz} levelDbfs={conditions.toneLevelDbfs} gate={current.gate} />
      </div>
      <TraceDrop label={`Capture at ${formatQuantity(toneHz, 'Hz')}, load on`} capture={capture} />
      <Verdict
        findings={state.findings}
        hint="Same set-up as the proof. Play each tone in a short burst and capture the output; the gain stays where it is."
      />
    </div>
  );
}

function StateIcon({ state }: { state: ToneLook['state'] }): JSX.Element {
  if (state === 'clean') return <CircleCheck size={20} className="text-good shrink-0" aria-hidden />;
  if (state === 'flat') return <TriangleAlert size={20} className="text-attention shrink-0" aria-hidden />;
  return <CircleDashed size={20} className="text-quiet shrink-0" aria-hidden />;
}
