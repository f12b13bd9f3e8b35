import { ANALYSIS_VERSION, conditionsNow, type TraceAnalysis } from '@yield/core';
import { FileUp } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { keepBytes } from '../store/outboxSender.ts';
import { entryAdded } from '../store/outbox.ts';
import { useAppDispatch } from '../store/store.ts';
import { ErrorNotice } from '../ui/Notice.tsx';
import { useKeys } from '../ui/useKeys.ts';
import { openTraceSession, type TraceSession } from '../workers/traceSession.ts';
import type { RunStep, TuneRun } from '../run/useTuneRun.ts';

/** The server's own default limit; a larger file is refused here already, before it is read. */
const LIMIT_BYTES = 256_000_000;

type State =
  { kind: 'idle' } | { kind: 'working'; words: string; fileName: string } | { kind: 'refused'; fileName: string; message: string };

/** Takes a capture by drop or choice, judges it in a worker, and hands it to the outbox. */
export function TraceDrop({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element {
  const [state, setState] = useState<State>({ kind: 'idle' });
  const [over, setOver] = useState(false);
  const [rails, setRails] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const session = useRef<TraceSession | null>(null);
  const dispatch = useAppDispatch();
  useKeys({ s: () => input.current?.click() });
  useEffect(() => () => session.current?.close(), []);

  const take = async (file: File): Promise<void> => {
    if (file.size > LIMIT_BYTES) {
      setState({
        kind: 'refused',
        fileName: file.name,
        message: `The file has ${Math.round(file.size / 1e6)} MB; the limit is 256 MB. Save a shorter stretch: a few dozen cycles are enough.`,
      });
      return;
    }
    setState({ kind: 'working', words: 'Opening', fileName: file.name });
    const bytes = new Uint8Array(await file.arrayBuffer());
    const { step } = current;
    const { chain, settings } = run.tune;
    const fullScaleVolt = Number(rails.replace(',', '.'));
    const reading = fullScaleVolt > 0 ? { fullScaleVolt } : {};
    const work = openTraceSession();
    session.current = work;
    const outcome = await work.load(
      bytes.slice(),
      { ...reading, toneHz: step.toneHz, limitThdPercent: settings.rules.limitThdPercent },
      (words) => setState({ kind: 'working', words, fileName: file.name }),
    );
    work.close();
    session.current = null;
    if (outcome.kind === 'refused') {
      setState({ kind: 'refused', fileName: file.name, message: outcome.message });
      return;
    }
    const id = crypto.randomUUID();
    const takenAt = new Date().toISOString();
    const conditions = conditionsNow(step, chain.body, settings.rules);
    await keepBytes(id, bytes).catch(() => undefined);
    dispatch(
      entryAdded({
        kind: 'trace',
        id,
        tuneId: run.tune.id,
        contentType: /\.wav$/i.test(file.name) ? 'audio/wav' : 'text/csv',
        upload: { stepId: step.id, fileName: file.name, takenAt, conditions: JSON.stringify(conditions), ...reading },
        trace: {
          id,
          stepId: step.id,
          fileName: file.name,
          channelIndex: 0,
          analysis: cloned(outcome.capture.analysis),
          conditions,
          takenAt,
          sha256: '',
          byteLength: bytes.length,
          analysisVersion: ANALYSIS_VERSION,
          ...reading,
        },
      }),
    );
    setState({ kind: 'idle' });
  };
  const cancel = (): void => {
    session.current?.close();
    session.current = null;
    setState({ kind: 'idle' });
  };

  return (
    <div>
      <p className="label flex items-center gap-2">
        Capture, load on <kbd className="key">s</kbd>
      </p>
      <div
        className={`mt-1 flex min-h-15 flex-wrap items-center justify-center gap-x-3 gap-y-1 rounded-md border-2 border-dashed px-2 py-1.5 text-center ${over ? 'border-action' : 'border-line'}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          const file = event.dataTransfer.files[0];
          if (file !== undefined) void take(file);
        }}
      >
        {state.kind === 'working' ? (
          <>
            <p role="status">
              {state.words}: {state.fileName} …
            </p>
            <progress className="progress w-48" />
            <button type="button" className="btn" onClick={cancel}>
              Cancel
            </button>
          </>
        ) : (
          <>
            <button type="button" className="btn btn-tall" onClick={() => input.current?.click()}>
              <FileUp size={20} aria-hidden /> CSV or WAV
            </button>
            <p className="text-quiet text-sm">or drop it here</p>
          </>
        )}
        <input
          ref={input}
          type="file"
          className="sr-only"
          aria-label="Capture file"
          tabIndex={-1}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file !== undefined) void take(file);
          }}
        />
      </div>
      <label
        className="text-quiet mt-1 flex items-center gap-2 text-sm"
        title="The peak voltage at which the recorder itself ends; with it, a capture over range is told from a clipped amplifier"
      >
        Rails, if known
        <input
          value={rails}
          onChange={(event) => setRails(event.target.value)}
          inputMode="decimal"
          className="border-line bg-ground text-ink min-h-8 w-16 rounded-md border px-2 text-right"
        />{' '}
        V
      </label>
      {state.kind === 'refused' && (
        <div className="mt-2">
          <ErrorNotice>
            <p className="font-medium">{state.fileName} was not taken.</p>
            <p className="mt-0.5">{state.message}</p>
          </ErrorNotice>
        </div>
      )}
    </div>
  );
}

/** The worker's answer is plain data; the store wants it free of undefined fields. */
const cloned = (analysis: TraceAnalysis): TraceAnalysis => JSON.parse(JSON.stringify(analysis)) as TraceAnalysis;
