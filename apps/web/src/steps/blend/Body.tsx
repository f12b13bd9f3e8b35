import { blendConditions, fixed, formatQuantity, nextByNoise, readyTones, type BlendRow } from '@yield/core';
import { Play, Square } from 'lucide-react';
import type { JSX } from 'react';
import { useTonePlayer } from '../../tones/useTonePlayer.ts';
import { Checks } from '../kit/Checks.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';

const NOISE = readyTones().find(({ shape }) => shape.kind === 'pink-noise')!;
/** The widest bar stands for so much above the quietest channel. */
const BAR_DB = 12;

/** Levels of all channels by pink noise: one figure a channel, and how they stand to each other. */
export function BlendBody({ run, current }: ViewProps<'blend'>): JSX.Element {
  const { step, state, gate } = current;
  const next = nextByNoise(step, run.now);
  const player = useTonePlayer();
  const isPlaying = player.playing === NOISE.name;
  return (
    <div className="min-w-0 space-y-4">
      <Checks run={run} current={current} />
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)_auto]">
        {next === undefined ? (
          <div className="text-quiet self-center">All are read. Read again after something was changed.</div>
        ) : (
          <ReadingEntry
            key={next.channel.id}
            run={run}
            current={current}
            kind="pink-level"
            unit="dB"
            conditions={blendConditions(next, run.now)}
            label={`${next.channel.name} alone`}
            main
          />
        )}
        <Verdict
          findings={state.findings}
          hint="Play pink noise of the tone set, mute the other channels in the processor, and type what the sound meter shows: slow, C or no weighting."
        />
        <div>
          <p className="label block">Pink noise</p>
          <button
            type="button"
            className={`btn btn-tall mt-1 ${isPlaying ? 'btn-primary' : ''}`}
            aria-pressed={isPlaying}
            disabled={gate.isLocked && !isPlaying}
            onClick={() => player.toggle(NOISE)}
          >
            {isPlaying ? <Square size={18} aria-hidden /> : <Play size={18} aria-hidden />} {isPlaying ? 'Stop' : 'Play softly'}
          </button>
        </div>
      </div>
      <Rows rows={state.figures.rows} nextId={next?.channel.id} />
      <p className="text-quiet max-w-2xl text-sm">
        Pink noise has the same power in every octave: a channel that plays three octaves is louder by 4.8 dB than one that plays one. That
        is taken off, so that channels which are level show the same.
      </p>
    </div>
  );
}

function Rows({ rows, nextId }: { rows: readonly BlendRow[]; nextId: string | undefined }): JSX.Element {
  return (
    <div className="overflow-x-auto">
      <table className="w-full min-w-md text-left">
        <thead>
          <tr className="text-quiet text-sm">
            <th className="py-1 pr-4 font-medium">Channel</th>
            <th className="pr-4 font-medium">Plays</th>
            <th className="px-3 text-right font-medium">Shown</th>
            <th className="px-3 text-right font-medium">Above the quietest</th>
            <th className="w-1/3 font-medium" aria-hidden />
          </tr>
        </thead>
        <tbody className="divide-line border-line divide-y border-y">
          {rows.map(({ channelId, name, fromHz, toHz, shownDb, aboveDb, isStale }) => (
            <tr key={channelId} className={channelId === nextId ? 'bg-raised' : ''}>
              <th scope="row" className="max-w-56 py-2 pr-4 font-semibold break-words">
                {name}
              </th>
              <td className="text-quiet pr-4 whitespace-nowrap">
                {formatQuantity(fromHz, 'Hz')} to {formatQuantity(toHz, 'Hz')}
              </td>
              <td className="px-3 text-right whitespace-nowrap">
                {shownDb === undefined ? (
                  <span className="text-quiet">{isStale === true ? 'read again' : channelId === nextId ? 'next' : '–'}</span>
                ) : (
                  `${fixed(shownDb, 1)} dB`
                )}
              </td>
              <td className="px-3 text-right whitespace-nowrap">{aboveDb === undefined ? '–' : `${fixed(aboveDb, 1)} dB`}</td>
              <td aria-hidden>
                {aboveDb !== undefined && (
                  <span className="bg-action block h-2.5 rounded-sm" style={{ width: `${4 + 96 * Math.min(1, aboveDb / BAR_DB)}%` }} />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
