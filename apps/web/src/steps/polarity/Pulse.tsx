import { formatQuantity, type Gate, type PulseChannel } from '@yield/core';
import { FileUp } from 'lucide-react';
import { useId, useState, type JSX } from 'react';
import { Link } from 'react-router';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { useKept } from '../../ui/useKept.ts';
import { LivePulse } from './LivePulse.tsx';

type Judged = { kind: 'judged'; channels: readonly PulseChannel[] } | { kind: 'failed'; words: string };

/** A recording of the polarity pulse, judged by its first rise. */
export function Pulse({
  tuneId,
  driver,
  gate,
  isSetReversed,
}: {
  tuneId: string;
  driver: string;
  gate: Gate;
  /** its channel is set reversed on purpose, so its pulse comes turned over */
  isSetReversed: boolean;
}): JSX.Element {
  const id = useId();
  const [judged, setJudged] = useState<Judged>();
  // Of this browser: the same microphone and input come again.
  const [isInverting, setIsInverting] = useKept('input-inverts', (kept) => kept === true);
  const judge = async (file: File): Promise<void> => {
    const type = /\.wav$/i.test(file.name) ? 'audio/wav' : 'text/csv';
    const response = await fetch('/api/v1/calc/pulse', { method: 'POST', headers: { 'content-type': type }, body: file }).catch(
      () => undefined,
    );
    if (response === undefined) {
      setJudged({ kind: 'failed', words: 'The server does not answer: a pulse is judged there. Try again in a moment.' });
      return;
    }
    const body = (await response.json().catch(() => ({}))) as {
      channels?: PulseChannel[];
      detail?: string;
      errors?: { message: string }[];
    };
    setJudged(
      response.ok && body.channels !== undefined
        ? { kind: 'judged', channels: body.channels }
        : { kind: 'failed', words: body.errors?.[0]?.message ?? body.detail ?? 'This file could not be read.' },
    );
  };
  return (
    <div className="max-w-2xl space-y-3">
      <p className="leading-snug">
        Play the polarity pulse of{' '}
        <Link to={`/tunes/${tuneId}/tones`} className="text-action font-medium hover:underline">
          the tones
        </Link>{' '}
        through {driver} alone, softly, and record it with a microphone right before the cone, some silence first. What rises first is what
        counts.
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
            if (file !== undefined) void judge(file);
          }}
        />
        <LivePulse disabled={gate.isLocked} onRecorded={(file) => void judge(file)} />
        <label className="flex min-h-11 cursor-pointer items-center gap-2.5">
          <input
            type="checkbox"
            className="checkbox"
            checked={isInverting === true}
            onChange={(event) => setIsInverting(event.target.checked ? true : null)}
          />
          this microphone or input inverts
        </label>
      </div>
      <p className="text-quiet text-sm">
        Whether it inverts shows a driver that is known to be right: if it comes out reversed, tick the box. A filter’s high-pass makes what
        follows the first rise larger; it does not turn the first rise.
      </p>
      {judged?.kind === 'failed' && <ErrorNotice>{judged.words}</ErrorNotice>}
      {judged?.kind === 'judged' && (
        <ul className="space-y-2" data-testid="pulse-verdict" aria-live="polite">
          {judged.channels.map((channel) => (
            <li key={channel.name}>
              <FindingLine
                finding={findingOf(channel, { isInverting: isInverting === true, isSetReversed, isNamed: judged.channels.length > 1 })}
                large={judged.channels.length === 1}
              />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function findingOf(
  { name, polarity, peakAboveNoiseDb, reason }: PulseChannel,
  { isInverting, isSetReversed, isNamed }: { isInverting: boolean; isSetReversed: boolean; isNamed: boolean },
): Parameters<typeof FindingLine>[0]['finding'] {
  const who = isNamed ? `${name}: ` : '';
  if (polarity === 'unclear') return { grade: 'attention', words: `${who}cannot be told from this recording.`, next: reason ?? '' };
  const isRight = ((polarity === 'positive') !== isInverting) !== isSetReversed;
  const clear = peakAboveNoiseDb === undefined ? '' : ` ${formatQuantity(peakAboveNoiseDb, 'dB')} above the noise.`;
  return {
    grade: isRight ? 'good' : 'attention',
    words: `${who}${isRight ? 'it pushes out first.' : 'it pulls in first.'}`,
    next: `${isInverting ? 'The input inverts, which is counted in. ' : ''}${isSetReversed ? 'Its channel is set reversed on purpose, in the crossovers or where it meets its neighbour, which is counted in.' : ''}${clear}`.trim(),
  };
}
