import type { ChannelAnalysis } from '@yield/core';
import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import { useCallback, useEffect, useRef, useState, type JSX, type PointerEvent as ReactPointerEvent } from 'react';
import { useTheme } from '../ui/useTheme.ts';
import { useKeys } from '../ui/useKeys.ts';
import { useWidth } from '../ui/useWidth.ts';
import type { TraceSession } from '../workers/traceSession.ts';
import { AXIS_WIDTH, drawWave, PICTURE_HEIGHT } from './drawWave.ts';
import { moved, zoomed, type View } from './view.ts';

interface Props {
  session: TraceSession;
  channelIndex: number;
  channel: ChannelAnalysis;
  sampleRateHz: number;
  startSecond: number;
}

const FIRST_CYCLES = 8;
const ZOOM_STEP = 0.5;

/** The waveform to look into: wheel or pinch to zoom, drag to move, keys for both. The samples stay in the worker. */
export function WaveView({ session, channelIndex, channel, sampleRateHz, startSecond }: Props): JSX.Element {
  const total = channel.samples;
  const cycle = channel.fundamentalHz === undefined ? total : sampleRateHz / channel.fundamentalHz;
  const [view, setView] = useState<View>({ from: 0, to: Math.min(total, FIRST_CYCLES * cycle) });
  const [ref, width] = useWidth();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { theme } = useTheme();
  const zoom = useCallback((factor: number, around = 0.5) => setView((v) => zoomed(v, factor, around, total)), [total]);
  const move = (share: number): void => setView((v) => moved(v, share, total));
  const showAll = (): void => setView({ from: 0, to: total });
  useKeys({
    '+': () => zoom(ZOOM_STEP),
    '=': () => zoom(ZOOM_STEP),
    '-': () => zoom(1 / ZOOM_STEP),
    '0': showAll,
    ArrowLeft: () => move(-0.2),
    ArrowRight: () => move(0.2),
  });

  useEffect(() => {
    if (width <= AXIS_WIDTH) return undefined;
    let wanted = true;
    const columns = Math.min(4000, Math.round((width - AXIS_WIDTH) * Math.min(2, window.devicePixelRatio)));
    void Promise.all([
      session.envelope(channelIndex, 'wave', view.from, view.to, columns),
      session.envelope(channelIndex, 'residual', view.from, view.to, columns),
    ]).then(([wave, residual]) => {
      // A newer view was asked for meanwhile: its picture comes next.
      if (!wanted || canvas.current === null) return;
      drawWave(canvas.current, { width, view, sampleRateHz, startSecond, channel, wave, residual });
      canvas.current.dataset.drawn = `${view.from}-${view.to}`;
    });
    return () => {
      wanted = false;
    };
  }, [session, channelIndex, channel, sampleRateHz, startSecond, view, width, theme]);

  // React listens to the wheel passively; to keep the page from scrolling the listener must not be passive.
  useEffect(() => {
    const element = canvas.current;
    if (element === null) return undefined;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      zoom(Math.exp(event.deltaY / 400), (event.clientX - box.left - AXIS_WIDTH) / (box.width - AXIS_WIDTH));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [zoom]);

  const pointers = useRef(new Map<number, number>());
  const onPointerMove = (event: ReactPointerEvent<HTMLCanvasElement>): void => {
    const held = pointers.current;
    const before = held.get(event.pointerId);
    if (before === undefined) return;
    const others = [...held].filter(([id]) => id !== event.pointerId).map(([, x]) => x);
    held.set(event.pointerId, event.clientX);
    const plot = width - AXIS_WIDTH;
    const [other] = others;
    if (other === undefined) move(-(event.clientX - before) / plot);
    else if (Math.abs(event.clientX - other) > 10) zoom(Math.abs(before - other) / Math.abs(event.clientX - other));
  };

  return (
    <section aria-label="Waveform">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-3">
        <ul className="flex flex-wrap gap-x-5 text-sm">
          <Legend color="var(--wave-1)" words="captured" />
          <Legend color="var(--wave-3)" words="fitted sine" dashed />
          {channel.clipping.positiveFlatFraction + channel.clipping.negativeFlatFraction > 0 && (
            <Legend color="var(--stop)" words="flattened" bar />
          )}
        </ul>
        <div className="join">
          <button type="button" className="btn btn-square join-item" aria-label="Zoom in" onClick={() => zoom(ZOOM_STEP)}>
            <ZoomIn size={20} aria-hidden />
          </button>
          <button type="button" className="btn btn-square join-item" aria-label="Zoom out" onClick={() => zoom(1 / ZOOM_STEP)}>
            <ZoomOut size={20} aria-hidden />
          </button>
          <button type="button" className="btn btn-square join-item" aria-label="Show all" onClick={showAll}>
            <Maximize2 size={20} aria-hidden />
          </button>
        </div>
      </div>
      <div ref={ref}>
        <canvas
          ref={canvas}
          style={{ width: '100%', height: PICTURE_HEIGHT, touchAction: 'pan-y' }}
          className="cursor-grab active:cursor-grabbing"
          role="img"
          aria-label={`Waveform of ${channel.name} with the fitted sine and the residual`}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            pointers.current.set(event.pointerId, event.clientX);
          }}
          onPointerMove={onPointerMove}
          onPointerUp={(event) => pointers.current.delete(event.pointerId)}
          onPointerCancel={(event) => pointers.current.delete(event.pointerId)}
        />
      </div>
    </section>
  );
}

function Legend({
  color,
  words,
  dashed = false,
  bar = false,
}: {
  color: string;
  words: string;
  dashed?: boolean;
  bar?: boolean;
}): JSX.Element {
  return (
    <li className="flex items-center gap-2">
      <svg width="26" height="10" aria-hidden>
        <line x1="1" x2="25" y1="5" y2="5" stroke={color} strokeWidth={bar ? 5 : 2.2} {...(dashed ? { strokeDasharray: '6 4' } : {})} />
      </svg>
      {words}
    </li>
  );
}
