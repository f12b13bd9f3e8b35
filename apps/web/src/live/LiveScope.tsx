import { useEffect, useRef, type JSX } from 'react';
import { useWidth } from '../ui/useWidth.ts';
import { triggerIndex } from './triggered.ts';

const HEIGHT = 190;
const CYCLES = 4;

/** The newest cycles, held still by a rising crossing; the rails of the input as two lines. */
export function LiveScope({
  newest,
  sampleRateHz,
  toneHz,
  held,
}: {
  newest: (seconds: number) => Float32Array;
  sampleRateHz: number;
  toneHz: number;
  /** a frame to show instead of what is live */
  held: Float32Array | null;
}): JSX.Element {
  const [ref, width] = useWidth();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (width === 0 || context === null || context === undefined) return undefined;
    let frame = 0;
    const draw = (): void => {
      const cycles = Math.round((CYCLES * sampleRateHz) / toneHz);
      const samples = held ?? newest((2 * cycles) / sampleRateHz);
      paint(context, width, samples, cycles);
      if (held === null) frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [width, newest, sampleRateHz, toneHz, held]);
  const ratio = typeof devicePixelRatio === 'number' ? devicePixelRatio : 1;
  return (
    <div ref={ref} className="min-w-0">
      <canvas
        ref={canvas}
        width={Math.max(1, width * ratio)}
        height={HEIGHT * ratio}
        style={{ width, height: HEIGHT }}
        className="border-line bg-ground block rounded-md border"
        role="img"
        aria-label={held === null ? 'Live picture of the input' : 'Held picture of the input'}
      />
    </div>
  );
}

function paint(context: CanvasRenderingContext2D, width: number, samples: Float32Array, count: number): void {
  const ratio = context.canvas.height / HEIGHT;
  const style = getComputedStyle(context.canvas);
  const color = (name: string): string => style.getPropertyValue(name);
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, HEIGHT);
  const y = (value: number): number => HEIGHT / 2 - value * (HEIGHT / 2 - 12);
  context.lineWidth = 1;
  context.strokeStyle = color('--line');
  context.beginPath();
  for (const level of [-0.5, 0, 0.5]) {
    context.moveTo(0, y(level));
    context.lineTo(width, y(level));
  }
  context.stroke();
  context.strokeStyle = color('--stop');
  context.setLineDash([3, 5]);
  context.beginPath();
  for (const rail of [-1, 1]) {
    context.moveTo(0, y(rail));
    context.lineTo(width, y(rail));
  }
  context.stroke();
  context.setLineDash([]);
  if (samples.length === 0) return;
  const from = triggerIndex(samples, count);
  context.strokeStyle = color('--wave-1');
  context.lineWidth = 2;
  context.beginPath();
  for (let n = 0; n < Math.min(count, samples.length - from); n += 1) {
    const at = [(n / count) * width, y(samples[from + n]!)] as const;
    if (n === 0) context.moveTo(...at);
    else context.lineTo(...at);
  }
  context.stroke();
}
