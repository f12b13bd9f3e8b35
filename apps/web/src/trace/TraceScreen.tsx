import { formatQuantity, significant, type ChannelAnalysis, type ChannelRelation } from '@yield/core';
import { ArrowLeft, Download } from 'lucide-react';
import { lazy, Suspense, useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { useTuneRun } from '../tune/useTuneRun.ts';
import { ErrorNotice } from '../ui/Notice.tsx';
import { GradeMark } from '../ui/StatusMark.tsx';
import { useTraceFile, type OpenTrace } from './useTraceFile.ts';
import { VERDICT, warningWords } from './verdictWords.ts';
import { WaveView } from './WaveView.tsx';

const SpectrumChart = lazy(() => import('./SpectrumChart.tsx'));

/** One capture: the waveform with its fitted sine, the residual, the spectrum, the figures and what they mean. */
export default function TraceScreen(): JSX.Element | null {
  const { tuneId = '', traceId = '' } = useParams();
  const run = useTuneRun(tuneId);
  const trace = run?.tune.traces.find(({ id }) => id === traceId);
  if (run === null) return null;
  if (trace === undefined) {
    return (
      <main className="flex-1 p-6">
        <ErrorNotice>This capture is not there, or is not stored yet.</ErrorNotice>
      </main>
    );
  }
  const step = run.steps.find((s) => s.step.id === trace.stepId);
  return (
    <main className="min-w-0 flex-1 px-6 py-5">
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
        <div className="min-w-0">
          <h1 className="text-2xl leading-tight break-words">{trace.fileName}</h1>
          {step !== undefined && (
            <Link
              to={`/tunes/${tuneId}/run/${trace.stepId}`}
              className="text-action mt-1 flex min-h-9 items-center gap-1.5 hover:underline"
            >
              <ArrowLeft size={18} aria-hidden /> {step.title}
            </Link>
          )}
        </div>
        <a className="btn" href={`/api/v1/tunes/${tuneId}/traces/${traceId}/file`} download={trace.fileName}>
          <Download size={18} aria-hidden /> Original file
        </a>
      </div>
      <TraceBody key={traceId} tuneId={tuneId} trace={trace} limitThdPercent={run.tune.settings.rules.limitThdPercent} />
    </main>
  );
}

function TraceBody({ tuneId, trace, limitThdPercent }: { tuneId: string; trace: OpenTrace; limitThdPercent: number }): JSX.Element {
  const file = useTraceFile(tuneId, trace, limitThdPercent);
  const [channel, setChannel] = useState(trace.channelIndex);
  if (file.kind === 'failed') {
    return (
      <div className="mt-4">
        <ErrorNotice>{file.message}</ErrorNotice>
      </div>
    );
  }
  if (file.kind === 'working') {
    return (
      <div className="mt-8 max-w-sm" role="status">
        <p className="text-quiet">{file.words} …</p>
        <progress className="progress mt-2 w-full" />
      </div>
    );
  }
  const { session, capture } = file;
  const { channels, between, sampleRateHz } = capture.analysis;
  const shown = channels[channel];
  if (shown === undefined) return <ErrorNotice>The capture has no such channel.</ErrorNotice>;
  return (
    <div className="mt-4 grid gap-6 xl:grid-cols-[minmax(0,1fr)_19rem]">
      <div className="min-w-0 space-y-5">
        {channels.length > 1 && (
          <div role="tablist" aria-label="Channels" className="flex flex-wrap gap-2">
            {channels.map(({ name }, i) => (
              <button
                key={name}
                type="button"
                role="tab"
                aria-selected={i === channel}
                className={`btn ${i === channel ? 'btn-primary' : ''}`}
                onClick={() => setChannel(i)}
              >
                {name}
              </button>
            ))}
          </div>
        )}
        <WaveView
          key={channel}
          session={session}
          channelIndex={channel}
          channel={shown}
          sampleRateHz={sampleRateHz}
          startSecond={capture.startSecond}
        />
        <Suspense fallback={<p className="text-quiet h-64">Drawing the spectrum …</p>}>
          <SpectrumChart
            key={channel}
            session={session}
            channelIndex={channel}
            {...(shown.fundamentalHz === undefined ? {} : { fundamentalHz: shown.fundamentalHz })}
          />
        </Suspense>
      </div>
      <Figures channel={shown} relations={between} />
    </div>
  );
}

function Figures({ channel, relations }: { channel: ChannelAnalysis; relations: readonly ChannelRelation[] }): JSX.Element {
  const { clipping } = channel;
  const verdict = VERDICT[clipping.verdict];
  const rows: [string, string][] = [
    ['Fundamental', channel.fundamentalHz === undefined ? 'none found' : formatQuantity(channel.fundamentalHz, 'Hz')],
    ['RMS', formatQuantity(channel.voltageRms, 'V')],
    ['Peaks', `${formatQuantity(channel.peakPositiveVolt, 'V')}, ${formatQuantity(channel.peakNegativeVolt, 'V')}`],
    ['Crest factor', significant(channel.crestFactor)],
    ['Offset', formatQuantity(channel.dcOffsetVolt, 'V')],
    ...(channel.thdPercent === undefined || channel.thdPlusNoisePercent === undefined
      ? []
      : ([
          ['Distortion (harmonics 2 to 10)', formatQuantity(channel.thdPercent, '%')],
          ['with noise', formatQuantity(channel.thdPlusNoisePercent, '%')],
        ] as [string, string][])),
    ...(clipping.positiveFlatFraction + clipping.negativeFlatFraction > 0
      ? ([
          [
            'Flat, top and bottom',
            `${formatQuantity(100 * clipping.positiveFlatFraction, '%')}, ${formatQuantity(100 * clipping.negativeFlatFraction, '%')}`,
          ],
        ] as [string, string][])
      : []),
    ...(clipping.estimatedOverdriveDb === undefined
      ? []
      : ([['Driven too far by', formatQuantity(clipping.estimatedOverdriveDb, 'dB')]] as [string, string][])),
    ['Samples', channel.samples.toLocaleString('en')],
  ];
  return (
    <aside className="panel self-start" aria-label="Figures">
      <div className="flex items-center gap-3">
        <GradeMark grade={verdict.grade} size={26} />
        <h2 className="text-xl" data-testid="trace-verdict">
          {verdict.word}
        </h2>
      </div>
      <dl className="mt-4 space-y-2.5">
        {rows.map(([name, value]) => (
          <div key={name} className="flex items-baseline justify-between gap-4">
            <dt className="text-quiet text-sm">{name}</dt>
            <dd className="text-right font-medium">{value}</dd>
          </div>
        ))}
      </dl>
      {warningWords(channel).length > 0 && (
        <ul className="border-line mt-4 space-y-2 border-t pt-3 text-sm">
          {warningWords(channel).map((words) => (
            <li key={words} className="text-attention">
              {words}
            </li>
          ))}
        </ul>
      )}
      {relations.map(({ from, to, gainDb, phaseDeg, delaySecond, polarity }) => (
        <div key={to} className="border-line mt-4 border-t pt-3">
          <h3 className="text-sm font-semibold">
            {to} against {from}
          </h3>
          <p className="mt-1 text-sm leading-relaxed">
            {formatQuantity(gainDb, 'dB')}, phase {significant(phaseDeg)}°, {delaySecond >= 0 ? 'later' : 'earlier'} by{' '}
            {formatQuantity(Math.abs(delaySecond), 's')}, polarity {polarity}
          </p>
        </div>
      ))}
    </aside>
  );
}
