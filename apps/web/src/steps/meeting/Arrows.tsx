import { fixed, formatQuantity, voltageFactor, type MeetingTone } from '@yield/core';
import { useState, type JSX } from 'react';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { lookOf } from '../../ui/curveLooks.tsx';

const SIZE = 200;
const MIDDLE = SIZE / 2;
const REACH = 82;
/** A level that is read off a sound meter may be off by so much. Common practice, no source. */
const METER_OFF_DB = 0.5;

type Whole = MeetingTone & { lowerDb: number; upperDb: number; bothDb: number };

/** The two at one tone as arrows, and their sum; the fan is what the meter leaves open. Which of them is ahead levels do not say. */
export function Arrows({ tones, names }: { tones: readonly MeetingTone[]; names: readonly [string, string] }): JSX.Element {
  const whole = tones.filter(isWhole);
  const [chosen, choose] = useState<string>();
  const tone = whole.find(({ hertz }) => String(hertz) === chosen) ?? whole[Math.floor(whole.length / 2)];
  if (tone?.phase?.phaseDeg === undefined)
    return <p className="text-quiet self-center text-sm leading-snug">Two arrows appear here once all three levels of a tone are read.</p>;
  const { lowerDb, upperDb, bothDb } = tone;
  const top = Math.max(lowerDb, upperDb, bothDb);
  const sizes = [lowerDb, upperDb].map((db) => REACH * voltageFactor(db - top)) as [number, number];
  const { phaseDeg } = tone.phase;
  const [low, high] = fan(tone);
  const first: Point = [MIDDLE, MIDDLE - sizes[0]];
  const second = tip([MIDDLE, MIDDLE], sizes[1], phaseDeg);
  const sum: Point = [first[0] + second[0] - MIDDLE, first[1] + second[1] - MIDDLE];
  const scale = Math.min(1, REACH / Math.max(1, Math.hypot(sum[0] - MIDDLE, sum[1] - MIDDLE)));
  const at = ([x, y]: Point): Point => [MIDDLE + (x - MIDDLE) * scale, MIDDLE + (y - MIDDLE) * scale];
  const arc = [low, high].map((deg) => at(tip([MIDDLE, MIDDLE], sizes[1], deg)));
  return (
    <figure className="min-w-0">
      {whole.length > 1 && (
        <ChoiceField
          label="Tone of the arrows"
          hideLabel
          value={String(tone.hertz)}
          onChange={choose}
          choices={whole.map(({ hertz }) => ({ value: String(hertz), label: fixed(hertz, 0) }))}
        />
      )}
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        className="mt-2 w-full max-w-56"
        role="img"
        aria-label={`${names[0]} and ${names[1]} at ${formatQuantity(tone.hertz, 'Hz')}: ${fixed(phaseDeg, 0)} degrees apart`}
      >
        <circle cx={MIDDLE} cy={MIDDLE} r={REACH} fill="none" stroke="var(--line)" />
        <path
          d={`M${MIDDLE} ${MIDDLE} L${arc[0]!.join(' ')} A${sizes[1] * scale} ${sizes[1] * scale} 0 0 1 ${arc[1]!.join(' ')} Z`}
          fill={lookOf(1).color}
          fillOpacity="0.15"
        />
        <Arrow to={at(first)} color={lookOf(0).color} />
        <Arrow to={at(second)} color={lookOf(1).color} />
        <Arrow to={at(sum)} color="var(--ink)" dash="5 3" />
      </svg>
      <figcaption className="text-quiet text-sm leading-snug">
        {fixed(phaseDeg, 0)}° apart, {fixed(low, 0)} to {fixed(high, 0)}° by the meter. Dashed: both together.
      </figcaption>
    </figure>
  );
}

type Point = [number, number];

const isWhole = (tone: MeetingTone): tone is Whole =>
  tone.lowerDb !== undefined && tone.upperDb !== undefined && tone.bothDb !== undefined && tone.phase?.possible === true;

/** Straight up is 0 degrees, and more turns clockwise. */
const tip = ([x, y]: Point, size: number, deg: number): Point => {
  const angle = (deg * Math.PI) / 180;
  return [x + size * Math.sin(angle), y - size * Math.cos(angle)];
};

/** The angles that the same levels could mean, half a decibel up and down. */
function fan({ lowerDb, upperDb, bothDb }: Whole): [number, number] {
  const [a, b] = [voltageFactor(lowerDb), voltageFactor(upperDb)];
  const deg = (db: number): number => {
    const cosine = (voltageFactor(db) ** 2 - a ** 2 - b ** 2) / (2 * a * b);
    return (Math.acos(Math.max(-1, Math.min(1, cosine))) * 180) / Math.PI;
  };
  return [deg(bothDb + METER_OFF_DB), deg(bothDb - METER_OFF_DB)];
}

function Arrow({ to: [x, y], color, dash }: { to: Point; color: string; dash?: string }): JSX.Element {
  const angle = Math.atan2(y - MIDDLE, x - MIDDLE);
  const wing = (turn: number): string => `${x - 9 * Math.cos(angle + turn)},${y - 9 * Math.sin(angle + turn)}`;
  return (
    <g stroke={color} fill={color} strokeWidth="3">
      <line x1={MIDDLE} y1={MIDDLE} x2={x} y2={y} strokeDasharray={dash} />
      <polygon points={`${x},${y} ${wing(0.4)} ${wing(-0.4)}`} strokeWidth="0" />
    </g>
  );
}
