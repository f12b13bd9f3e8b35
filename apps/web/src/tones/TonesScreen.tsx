import { fixed, plainFigure, readyTones, tonesOfRun, track, trackFileName, type ToneFormat, type ToneTrack } from '@yield/core';
import * as Comlink from 'comlink';
import { Download, FileArchive, Play, Square, Trash2 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type JSX } from 'react';
import { useParams } from 'react-router';
import { useTuneRun } from '../tune/useTuneRun.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Caution, ErrorNotice } from '../ui/Notice.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { useDraft } from '../ui/useDraft.ts';
import { useKept } from '../ui/useKept.ts';
import { useKeys } from '../ui/useKeys.ts';
import type { ToneWorker } from '../workers/tones.worker.ts';
import { NewTone } from './NewTone.tsx';
import { useTonePlayer, type TonePlayer } from './useTonePlayer.ts';

type Making = { kind: 'idle' } | { kind: 'making'; number: number; of: number } | { kind: 'failed'; message: string };

/** The house's test tones: listened to, saved one by one, or as a numbered set for a stick or disc. */
export default function TonesScreen(): JSX.Element {
  const [rate, setRate] = useDraft('tones/rate', '44100');
  const [bits, setBits] = useDraft('tones/bits', '16');
  const [own, setOwn] = useOwnTracks();
  const [chosen, setChosen] = useState<string | null>(null);
  const player = useTonePlayer();
  const maker = useToneMaker();
  const format: ToneFormat = { sampleRateHz: rate === '48000' ? 48_000 : 44_100, bits: bits === '24' ? 24 : 16 };
  const { tuneId } = useParams();
  const run = useTuneRun(tuneId ?? '', tuneId === undefined);
  const asked = useMemo(() => (run === null ? undefined : tonesOfRun(run.steps, run.now)), [run]);
  const tracks = useMemo(() => (asked === undefined ? [...readyTones(), ...own] : asked.map((each) => each.track)), [asked, own]);
  const at = tracks.find(({ name }) => name === chosen) ?? tracks[0] ?? readyTones()[0]!;
  useKeys({ t: () => player.toggle(at) });
  return (
    <main className="mx-auto w-full max-w-6xl flex-1 px-6 py-6 max-sm:px-4">
      <div className="flex flex-wrap items-start justify-between gap-x-8 gap-y-4">
        <div className="max-w-xl">
          <h1 className="text-2xl">{asked === undefined ? 'Test tones' : `Tones of ${run?.tune.name ?? 'this tune'}`}</h1>
          <p className="text-quiet mt-1">
            {asked !== undefined && 'Every tone that the steps of this tune ask for, in their order. '}
            Made sample by sample, never above full scale. Play them from the source that is being set: each of its inputs keeps settings of
            its own.
          </p>
        </div>
        <div className="flex flex-wrap items-end gap-x-5 gap-y-3">
          <ChoiceField
            label="Sample rate"
            value={rate}
            choices={[
              { value: '44100', label: '44.1 kHz' },
              { value: '48000', label: '48 kHz' },
            ]}
            onChange={setRate}
          />
          <ChoiceField
            label="Depth"
            value={bits}
            choices={[
              { value: '16', label: '16 bit' },
              { value: '24', label: '24 bit' },
            ]}
            onChange={setBits}
          />
          {maker.state.kind === 'making' ? (
            <div className="flex items-center gap-3" role="status">
              <span>
                Making {maker.state.number} of {maker.state.of} …
              </span>
              <progress className="progress w-28" value={maker.state.number} max={maker.state.of} />
              <button type="button" className="btn" onClick={maker.cancel}>
                Cancel
              </button>
            </div>
          ) : (
            <button type="button" className="btn btn-primary btn-tall" onClick={() => void maker.zip(tracks, format)}>
              <FileArchive size={20} aria-hidden /> Whole set, ZIP
            </button>
          )}
        </div>
      </div>
      {maker.state.kind === 'failed' && (
        <div className="mt-4">
          <ErrorNotice>{maker.state.message}</ErrorNotice>
        </div>
      )}
      <div className="mt-6 grid items-start gap-8 lg:grid-cols-[minmax(0,1fr)_18rem]">
        <ol className="border-line divide-line divide-y border-y">
          {tracks.map((each, i) => (
            <TrackRow
              key={each.name}
              track={each}
              number={i + 1}
              isChosen={each.name === at.name}
              player={player}
              onChoose={() => setChosen(each.name)}
              onSave={() => void maker.wav(each, i + 1, format)}
              {...(own.includes(each) && asked === undefined ? { onRemove: () => setOwn(own.filter((other) => other !== each)) } : {})}
              {...(asked?.[i] === undefined ? {} : { steps: asked[i].steps })}
            />
          ))}
        </ol>
        <div className="space-y-4 lg:sticky lg:top-20">
          <Listening player={player} />
          {asked === undefined && (
            <NewTone
              taken={tracks.map(({ name }) => name)}
              onAdd={(added) => {
                setOwn([...own, added]);
                setChosen(added.name);
              }}
            />
          )}
          <Caution>
            A tone at full level from a car’s amplifiers is dangerous to ears within seconds, and to tweeters. Turn the volume down before a
            track is started.
          </Caution>
        </div>
      </div>
    </main>
  );
}

function TrackRow({
  track: { name, seconds, levelDbfs },
  track: each,
  number,
  isChosen,
  player,
  onChoose,
  onSave,
  onRemove,
  steps,
}: {
  track: ToneTrack;
  number: number;
  isChosen: boolean;
  player: TonePlayer;
  onChoose: () => void;
  onSave: () => void;
  onRemove?: () => void;
  /** of a tune, which ask for it */
  steps?: readonly string[];
}): JSX.Element {
  const plays = player.playing === name;
  const title = name.replace(/, [−\d.]+ dBFS/, '');
  return (
    <li className={`grid min-h-12 grid-cols-[2rem_minmax(0,1fr)_auto_auto] items-center gap-x-3 px-2 ${isChosen ? 'bg-raised' : ''}`}>
      <span className="text-quiet text-right text-sm">{number}</span>
      <button type="button" className="min-h-11 min-w-0 cursor-pointer text-left" aria-pressed={isChosen} onClick={onChoose}>
        <span className="font-medium">{title}</span>
        {steps !== undefined && <span className="text-quiet block text-sm leading-snug">{steps.join('; ')}</span>}
      </button>
      <span className="text-quiet text-right text-sm whitespace-nowrap">
        {plainFigure(levelDbfs)} dBFS <span className="max-sm:hidden">· {plainFigure(seconds)} s</span>
      </span>
      <span className="flex">
        <button
          type="button"
          className={`btn btn-square ${plays ? 'btn-primary' : 'btn-ghost'}`}
          aria-label={plays ? `Stop ${name}` : `Play ${name}`}
          aria-pressed={plays}
          title={plays ? 'Stop' : 'Play'}
          onClick={() => {
            onChoose();
            player.toggle(each);
          }}
        >
          {plays ? <Square size={18} aria-hidden /> : <Play size={18} aria-hidden />}
        </button>
        <button type="button" className="btn btn-ghost btn-square" aria-label={`Save ${name}`} title="Save as WAV" onClick={onSave}>
          <Download size={18} aria-hidden />
        </button>
        {onRemove !== undefined && (
          <button type="button" className="btn btn-ghost btn-square" aria-label={`Take out ${name}`} title="Take out" onClick={onRemove}>
            <Trash2 size={18} aria-hidden />
          </button>
        )}
      </span>
    </li>
  );
}

function Listening({ player }: { player: TonePlayer }): JSX.Element {
  return (
    <section className="panel" aria-label="Listening">
      <h2 className="flex items-center gap-2 text-sm font-semibold">
        Listening here <kbd className="key">t</kbd>
      </h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        {player.playing === null ? 'Begins softly, whatever the file’s level.' : `Playing: ${player.playing}.`}
      </p>
      <label className="mt-3 block">
        <span className="label flex justify-between">
          <span>Loudness against the file</span> <span className="text-ink font-medium">{fixed(player.loudnessDb, 0)} dB</span>
        </span>
        <input
          type="range"
          min={-60}
          max={0}
          step={1}
          value={player.loudnessDb}
          className="range range-primary mt-2 w-full"
          onChange={(event) => player.setLoudnessDb(Number(event.target.value))}
        />
      </label>
    </section>
  );
}

/** Tones of one's own, kept in this browser. */
function useOwnTracks(): [ToneTrack[], (tracks: ToneTrack[]) => void] {
  const [kept, keep] = useKept('tones/own', readTracks);
  return [kept ?? [], (tracks) => keep(tracks)];
}

type KeptTrack = Pick<ToneTrack, 'shape' | 'levelDbfs' | 'seconds' | 'fadeSecond' | 'side'>;

function readTracks(kept: unknown): ToneTrack[] | undefined {
  const isTrack = (each: unknown): each is KeptTrack => {
    const { shape, levelDbfs, seconds, fadeSecond, side } = (each ?? {}) as Record<string, unknown>;
    return (
      typeof shape === 'object' &&
      [levelDbfs, seconds, fadeSecond].every((figure) => typeof figure === 'number') &&
      typeof side === 'string'
    );
  };
  if (!Array.isArray(kept) || !kept.every(isTrack)) return undefined;
  return kept.map((t) => track(t.shape, t.levelDbfs, t.seconds, t.fadeSecond, t.side));
}

interface ToneMaker {
  state: Making;
  wav: (track: ToneTrack, number: number, format: ToneFormat) => Promise<void>;
  zip: (tracks: readonly ToneTrack[], format: ToneFormat) => Promise<void>;
  cancel: () => void;
}

/** Makes the files in a worker of its own, which a cancel ends at once. */
function useToneMaker(): ToneMaker {
  const [state, setState] = useState<Making>({ kind: 'idle' });
  const worker = useRef<Worker | null>(null);
  const end = (): void => {
    worker.current?.terminate();
    worker.current = null;
  };
  useEffect(() => end, []);
  const make = async (of: number, work: (remote: Comlink.Remote<ToneWorker>) => Promise<void>): Promise<void> => {
    end();
    const started = new Worker(new URL('../workers/tones.worker.ts', import.meta.url), { type: 'module' });
    worker.current = started;
    setState({ kind: 'making', number: 0, of });
    try {
      await work(Comlink.wrap<ToneWorker>(started));
      setState({ kind: 'idle' });
    } catch {
      setState({ kind: 'failed', message: 'The file could not be made. Is there enough memory? Try the tracks one by one.' });
    } finally {
      started.terminate();
    }
  };
  return {
    state,
    wav: (each, number, format) =>
      make(1, async (remote) =>
        saveFile((await remote.wav(each, format)) as Uint8Array<ArrayBuffer>, trackFileName(each.name, number), 'audio/wav'),
      ),
    zip: (tracks, format) =>
      make(tracks.length, async (remote) => {
        const onTrack = (number: number): void => setState((now) => (now.kind === 'making' ? { ...now, number } : now));
        const blob = await remote.zip(tracks, format, Comlink.proxy(onTrack));
        saveFile(blob, `test-tones-${format.sampleRateHz}-hz-${format.bits}-bit.zip`, 'application/zip');
      }),
    cancel: () => {
      end();
      setState({ kind: 'idle' });
    },
  };
}
