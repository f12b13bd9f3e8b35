import {
  channelsAgainst,
  fixed,
  formatQuantity,
  LONG_SWEEP,
  SHORT_SWEEP,
  signedDb,
  type ChannelsAgainst,
  type SweepSpec,
} from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import { FileUp } from 'lucide-react';
import { useRef, useState, type JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FrequencyAxes } from '../ui/FrequencyAxes.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { lookOf } from '../ui/curveLooks.tsx';
import { useWidth } from '../ui/useWidth.ts';
import type { LoadOutcome } from '../workers/trace.worker.ts';
import { openTraceSession } from '../workers/traceSession.ts';

type State =
  | { kind: 'idle' }
  | { kind: 'working'; words: string }
  | { kind: 'failed'; words: string }
  | { kind: 'found'; fileName: string; names: [string, string]; found: ChannelsAgainst };

const SWEEPS: Readonly<Record<'short' | 'long', SweepSpec>> = { short: SHORT_SWEEP, long: LONG_SWEEP };

const VERDICT: Readonly<Record<ChannelsAgainst['verdict'], string>> = {
  alike: 'Both channels are alike.',
  inverted: 'The second channel is inverted: plus and minus are changed over on its way.',
  delayed: 'The second channel is only delayed.',
  filtered: 'The second channel goes through a filter that the first one has not.',
  'inverted-and-more': 'The second channel is inverted, and more than that is on its way: see delay and phase.',
};

/** Two channels of one recorded sweep against each other: input against output, left against right. */
export function PhaseTool(): JSX.Element {
  const [length, setLength] = useState<'short' | 'long'>('short');
  const [state, setState] = useState<State>({ kind: 'idle' });
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File): Promise<void> => {
    setState({ kind: 'working', words: 'Opening' });
    const work = openTraceSession();
    const outcome = await work.load(new Uint8Array(await file.arrayBuffer()), { sweep: SWEEPS[length] }, (words) =>
      setState({ kind: 'working', words }),
    );
    work.close();
    setState(stateOf(file.name, outcome));
  };
  return (
    <div className="max-w-5xl space-y-5">
      <p className="max-w-prose leading-snug">
        Play the sweep of the tone set and record two points at once, such as the input of a processor on the first channel and its output
        on the second. At a single tone an inverted channel, a delay and a filter look the same. A sweep separates them.
      </p>
      <div className="flex flex-wrap items-end gap-4">
        <ChoiceField
          label="Sweep"
          value={length}
          onChange={setLength}
          choices={[
            { value: 'short', label: `${SHORT_SWEEP.seconds} s` },
            { value: 'long', label: `${LONG_SWEEP.seconds} s` },
          ]}
        />
        <button type="button" className="btn btn-primary btn-tall" onClick={() => input.current?.click()}>
          <FileUp size={20} aria-hidden /> WAV of two channels
        </button>
        <input
          ref={input}
          type="file"
          className="sr-only"
          tabIndex={-1}
          aria-label="Recording of two channels"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file !== undefined) void take(file);
          }}
        />
      </div>
      <div aria-live="polite" className="space-y-4" data-testid="against">
        {state.kind === 'working' && <p>{state.words} …</p>}
        {state.kind === 'failed' && <ErrorNotice>{state.words}</ErrorNotice>}
        {state.kind === 'found' && (
          <>
            <p className="text-xl leading-snug font-semibold">{VERDICT[state.found.verdict]}</p>
            <dl className="grid max-w-2xl grid-cols-2 gap-x-8 gap-y-3 sm:grid-cols-4">
              <Fact name="Level" value={signedDb(state.found.gainDb)} />
              <Fact name="Polarity" value={state.found.polarity} />
              <Fact name="Later by" value={`${fixed(state.found.delaySecond * 1000, 2)} ms`} />
              <Fact name="Phase left, at most" value={`${fixed(state.found.mostRestDeg, 0)}°`} />
            </dl>
            <Picture found={state.found} />
            <p className="text-quiet text-sm">
              {state.fileName}: {state.names[1]} against {state.names[0]}.
            </p>
          </>
        )}
      </div>
    </div>
  );
}

/** What a recording says, or why it says nothing. */
function stateOf(fileName: string, outcome: LoadOutcome): State {
  if (outcome.kind === 'refused') return { kind: 'failed', words: outcome.message };
  const [first, second] = outcome.capture.analysis.channels;
  if (first === undefined || second === undefined)
    return { kind: 'failed', words: `${fileName} has one channel: record both at once, on two.` };
  if (first.response?.kind !== 'response' || second.response?.kind !== 'response') {
    const silent = first.response?.kind === 'response' ? second : first;
    const why = silent.response?.kind === 'no-sweep' ? silent.response.reason : 'No sweep is found there.';
    return { kind: 'failed', words: `${silent.name}: ${why}` };
  }
  const found = channelsAgainst(first.response, second.response);
  if (found === undefined) return { kind: 'failed', words: 'The two have no range in common in which both play.' };
  return { kind: 'found', fileName, names: [first.name, second.name], found };
}

function Fact({ name, value }: { name: string; value: string }): JSX.Element {
  return (
    <div>
      <dt className="label">{name}</dt>
      <dd className="text-xl font-semibold whitespace-nowrap">{value}</dd>
    </div>
  );
}

const HEIGHT = 240;
const MARGIN = { top: 10, right: 14, bottom: 28, left: 48 };

function Picture({ found: { rest } }: { found: ChannelsAgainst }): JSX.Element {
  const [ref, width] = useWidth();
  const x = scaleLog()
    .domain([rest[0]!.hertz, rest.at(-1)!.hertz])
    .range([MARGIN.left, Math.max(MARGIN.left + 10, width - MARGIN.right)]);
  const y = scaleLinear()
    .domain([-180, 180])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const path = line<(typeof rest)[number]>(
    ({ hertz }) => x(hertz),
    ({ deg }) => y(deg),
  ).defined(({ deg }, i) => i === 0 || Math.abs(deg - rest[i - 1]!.deg) < 180);
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label="Phase that neither polarity nor delay explains">
          <FrequencyAxes x={x} y={y} ticks={[-180, -90, 0, 90, 180]} strongAt={0} signed />
          <path d={path(rest) ?? ''} fill="none" stroke={lookOf(0).color} strokeWidth="2.5" />
        </svg>
      )}
      <figcaption className="text-quiet mt-1 text-sm">
        Degrees that neither polarity nor delay explains: what filters do. From {formatQuantity(rest[0]!.hertz, 'Hz')} on.
      </figcaption>
    </figure>
  );
}
