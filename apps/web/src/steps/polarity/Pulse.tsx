import { pulseConditions, formatQuantity, polarityByPulse, type PulseChannel } from '@yield/core';
import { FileUp } from 'lucide-react';
import { useId, type JSX } from 'react';
import { Link } from 'react-router';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { GradedLine, type Graded } from '../../ui/FindingLine.tsx';
import { ErrorNotice } from '../../ui/Notice.tsx';
import type { ViewProps } from '../view.ts';
import { LivePulse } from './LivePulse.tsx';

interface Props extends ViewProps<'polarity'> {
  /** the microphone or input inverts, as the tuner says */
  isInverting: boolean;
  onInverting: (isInverting: boolean) => void;
}

/** A recording of the polarity pulse, judged by its first rise, and kept with the tune. */
export function Pulse({ run, current, isInverting, onInverting }: Props): JSX.Element {
  const { step, state, gate } = current;
  const id = useId();
  const { state: taking, take } = useTakeCapture({ run, stepId: step.id, conditions: () => pulseConditions(step, run.now) });
  const { pulses = [] } = state.figures;
  return (
    <div className="max-w-2xl space-y-3">
      <p className="leading-snug">
        Play the polarity pulse of{' '}
        <Link to={`/tunes/${run.tune.id}/tones`} className="text-action font-medium hover:underline">
          the tones
        </Link>{' '}
        through {step.driver.name} alone, softly, and record it with a microphone right before the cone, some silence first. What rises
        first is what counts.
      </p>
      {gate.isLocked && <p className="text-attention">Confirm its filters first: no driver gets a tone before.</p>}
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <label htmlFor={id} className={`btn btn-tall ${gate.isLocked ? 'btn-disabled' : ''}`}>
          <FileUp size={18} aria-hidden /> Recording, WAV or CSV
        </label>
        <input
          id={id}
          type="file"
          accept=".wav,.csv,.txt,audio/wav,text/csv"
          className="sr-only"
          disabled={gate.isLocked}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file !== undefined) void take(file);
          }}
        />
        <LivePulse disabled={gate.isLocked} onRecorded={(file) => void take(file)} />
        <label className="flex min-h-11 cursor-pointer items-center gap-2.5">
          <input type="checkbox" className="checkbox" checked={isInverting} onChange={(event) => onInverting(event.target.checked)} />
          this microphone or input inverts
        </label>
      </div>
      <p className="text-quiet text-sm">
        Whether it inverts shows a driver that is known to be right: if it comes out reversed, tick the box. A filter’s high-pass makes what
        follows the first rise larger; it does not turn the first rise.
      </p>
      {taking.kind === 'working' && <p className="text-quiet">{taking.words} …</p>}
      {taking.kind === 'refused' && <ErrorNotice>{taking.message}</ErrorNotice>}
      {pulses.length > 0 && (
        <ul className="space-y-2" data-testid="pulse-verdict" aria-live="polite">
          {pulses.map((channel) => (
            <li key={channel.name}>
              <GradedLine
                {...findingOf(channel, { isInverting, isSetReversed: step.channel.isReversed === true, isNamed: pulses.length > 1 })}
                large={pulses.length === 1}
              />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function findingOf(
  channel: PulseChannel,
  { isInverting, isSetReversed, isNamed }: { isInverting: boolean; isSetReversed: boolean; isNamed: boolean },
): Graded {
  const { name, peakAboveNoiseDb, reason } = channel;
  const who = isNamed ? `${name}: ` : '';
  const found = polarityByPulse(channel, isInverting, isSetReversed);
  if (found === 'unclear') return { grade: 'attention', text: `${who}is not clear from this recording.`, next: reason ?? '' };
  const clear = peakAboveNoiseDb === undefined ? '' : ` ${formatQuantity(peakAboveNoiseDb, 'dB')} above the noise.`;
  return {
    grade: found === 'right' ? 'good' : 'attention',
    text: `${who}${found === 'right' ? 'it pushes out first.' : 'it pulls in first.'}`,
    next: `${isInverting ? 'The input inverts, which is allowed for. ' : ''}${isSetReversed ? 'Its channel is deliberately reversed in the crossover settings, which is allowed for.' : ''}${clear}`.trim(),
  };
}
