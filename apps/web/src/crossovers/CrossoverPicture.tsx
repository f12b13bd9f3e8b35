import {
  formatQuantity,
  KIND_NAMES,
  groupName,
  significant,
  type ActiveFilter,
  type FilterKind,
  type AlikeGroups,
  type ProvedFilters,
} from '@yield/core';
import { scaleLinear, scaleLog, type ScaleLinear, type ScaleLogarithmic } from 'd3-scale';
import { line } from 'd3-shape';
import { useMemo, useRef, type JSX, type KeyboardEvent, type PointerEvent } from 'react';
import { CurveSample, lookOf } from '../ui/curveLooks.tsx';
import { FrequencyAxes } from '../ui/FrequencyAxes.tsx';
import { useWidth } from '../ui/useWidth.ts';
import { bandOf, limitOf } from './laneBands.ts';
import { PICTURE_HZ, sumCurve, groupCurve, type CurvePoint, type Quantity } from './curvePoints.ts';

interface Props {
  groups: readonly AlikeGroups[];
  proved: ProvedFilters;
  quantity: Quantity;
  /** power of each group over what it is rated for */
  shares: readonly number[];
  selectedId: string | undefined;
  /** where the figures below are for */
  cursorHz: number;
  onCursor: (hertz: number) => void;
  onSelect: (groupId: string) => void;
  /** while a corner moves, many times a second */
  onMove: (group: AlikeGroups, filter: ActiveFilter, hertz: number) => void;
  /** once it was let go */
  onMoved: () => void;
  /** one step up or down, by keyboard */
  onStep: (group: AlikeGroups, filter: ActiveFilter, steps: number) => void;
}

const CURVE_HEIGHT = 210;
const LANE_HEIGHT = { wide: 46, narrow: 62 };
const AXIS_HEIGHT = 30;
const TOP = 12;
const RIGHT = 14;
/** Room for the names of the lanes; on a phone they stand over them. */
const WIDE = 640;

const LIMITS: Record<Exclude<Quantity, 'delay'>, { domain: [number, number]; ticks: number[]; unit: string }> = {
  level: { domain: [-42, 8], ticks: [6, 0, -6, -12, -18, -24, -30, -36], unit: 'dB' },
  phase: { domain: [-180, 180], ticks: [180, 90, 0, -90, -180], unit: 'degrees' },
};

/**
 * What every way of the system gets, over frequency: curves above, and below a lane for each way with its driver's range as a
 * band and a bar from corner to corner, whose ends are dragged.
 */
export function CrossoverPicture(props: Props): JSX.Element {
  const { groups, proved, quantity, cursorHz, onCursor } = props;
  const [ref, width] = useWidth();
  const isWide = width >= WIDE;
  const left = isWide ? 176 : 40;
  const x = useMemo(
    () =>
      scaleLog()
        .domain([PICTURE_HZ.from, PICTURE_HZ.to])
        .range([left, Math.max(left + 10, width - RIGHT)])
        .clamp(true),
    [left, width],
  );
  const curves = useMemo(() => groups.map((group) => groupCurve(group, quantity, proved)), [groups, quantity, proved]);
  const { domain, ticks, unit } = quantity === 'delay' ? delayLimits(curves) : LIMITS[quantity];
  const y = scaleLinear()
    .domain(domain)
    .range([TOP + CURVE_HEIGHT, TOP]);
  const lanesTop = TOP + CURVE_HEIGHT + AXIS_HEIGHT;
  const laneHeight = isWide ? LANE_HEIGHT.wide : LANE_HEIGHT.narrow;
  const height = lanesTop + groups.length * laneHeight + 6;
  const follow = (event: PointerEvent<SVGRectElement>): void => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (box !== undefined) onCursor(x.invert(event.clientX - box.left));
  };
  return (
    <figure ref={ref} className="min-w-0 select-none">
      {width > 0 && (
        <svg width={width} height={height} role="group" aria-label="Crossovers over frequency" className="block">
          <text x={left - 8} y={TOP + CURVE_HEIGHT + 18} fontSize="12" textAnchor="end" fill="var(--quiet)">
            {unit}
          </text>
          <clipPath id="crossover-curves">
            <rect x={left} y={TOP} width={Math.max(0, width - RIGHT - left)} height={CURVE_HEIGHT} />
          </clipPath>
          <FrequencyAxes x={x} y={y} ticks={ticks} signed={quantity !== 'delay'} />
          <rect
            x={left}
            y={TOP}
            width={Math.max(0, width - RIGHT - left)}
            height={CURVE_HEIGHT}
            fill="transparent"
            onPointerDown={follow}
            onPointerMove={follow}
          />
          <Curves groups={groups} curves={curves} proved={proved} quantity={quantity} selectedId={props.selectedId} x={x} y={y} />
          <path
            d={`M${x(cursorHz)} ${TOP}V${TOP + CURVE_HEIGHT}M${x(cursorHz)} ${lanesTop}V${height - 6}`}
            stroke="var(--ink)"
            strokeDasharray="1 3"
            pointerEvents="none"
          />
          {groups.map((group, i) => (
            <Lane
              key={group.id}
              {...props}
              group={group}
              index={i}
              x={x}
              top={lanesTop + i * laneHeight}
              height={laneHeight}
              isWide={isWide}
            />
          ))}
        </svg>
      )}
      <figcaption className="text-quiet flex flex-wrap items-center gap-x-5 gap-y-1 text-sm" style={{ paddingLeft: left }}>
        {quantity !== 'delay' && groups.length > 1 && (
          <span className="flex items-center gap-2">
            <svg width="26" height="8" aria-hidden>
              <line x1="0" x2="26" y1="4" y2="4" stroke="var(--ink)" strokeWidth="3.5" />
            </svg>
            sum, one of each kind
          </span>
        )}
        <span className="flex items-center gap-2">
          <span className="bg-range inline-block h-3 w-6 rounded-sm" aria-hidden /> driver’s range
        </span>
        <span className="flex items-center gap-2">
          <svg width="8" height="16" aria-hidden>
            <path d="M4 0V16" stroke="var(--attention)" strokeWidth="2" strokeDasharray="3 3" />
          </svg>
          lowest safe high-pass
        </span>
        <span>Drag an end, or step it: ← →</span>
      </figcaption>
    </figure>
  );
}

type Scales = { x: ScaleLogarithmic<number, number>; y: ScaleLinear<number, number> };

/** As high as the longest delay, on a round figure. */
function delayLimits(curves: readonly CurvePoint[][]): { domain: [number, number]; ticks: number[]; unit: string } {
  const longest = Math.max(1, ...curves.flatMap((points) => points.map(({ value }) => value)));
  const scale = scaleLinear().domain([0, longest]).nice(5);
  return { domain: [0, scale.domain()[1]!], ticks: scale.ticks(5), unit: 'milliseconds' };
}

function Curves({
  groups,
  curves,
  proved,
  quantity,
  selectedId,
  x,
  y,
}: Pick<Props, 'groups' | 'proved' | 'quantity' | 'selectedId'> & Scales & { curves: readonly CurvePoint[][] }): JSX.Element {
  const path = line<CurvePoint>(
    ({ hertz }) => x(hertz),
    ({ value }) => y(Math.max(-200, value)),
  );
  // Phase jumps from −180 to 180 degrees: no line across the whole picture there.
  const draw = (points: readonly CurvePoint[]): string =>
    quantity === 'phase'
      ? pieces(points)
          .map((piece) => path(piece) ?? '')
          .join('')
      : (path([...points]) ?? '');
  return (
    <g pointerEvents="none" clipPath="url(#crossover-curves)">
      <path
        d={draw(sumCurve(summed(groups, selectedId), quantity, proved))}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="3.5"
        strokeOpacity="0.85"
      />
      {groups.map((group, i) => {
        const { color, dash } = lookOf(i);
        return (
          <path
            key={group.id}
            data-curve={group.id}
            d={draw(curves[i]!)}
            fill="none"
            stroke={color}
            strokeWidth="2.5"
            strokeDasharray={dash}
          />
        );
      })}
    </g>
  );
}

/** One way of each role, the chosen one before its likes: front and rear do not play the same place. */
function summed(groups: readonly AlikeGroups[], selectedId: string | undefined): AlikeGroups[] {
  const chosenFirst = [...groups].sort((a, b) => Number(b.id === selectedId) - Number(a.id === selectedId));
  return chosenFirst.filter(({ role }, i) => role === undefined || chosenFirst.findIndex((group) => group.role === role) === i);
}

function pieces(points: readonly CurvePoint[]): CurvePoint[][] {
  const found: CurvePoint[][] = [[]];
  points.forEach((point, i) => {
    const before = points[i - 1];
    if (before !== undefined && Math.abs(point.value - before.value) > 180) found.push([]);
    found.at(-1)!.push(point);
  });
  return found;
}

/** One way: its drivers' range as a band, what it plays as a bar, the bar's ends as handles. */
function Lane({
  group,
  index,
  x,
  top,
  height,
  isWide,
  selectedId,
  shares,
  onSelect,
  onMove,
  onMoved,
  onStep,
}: Props & {
  group: AlikeGroups;
  index: number;
  x: ScaleLogarithmic<number, number>;
  top: number;
  height: number;
  isWide: boolean;
}): JSX.Element {
  const { color } = lookOf(index);
  const [begin, end] = x.range() as [number, number];
  const middle = top + (isWide ? height / 2 : height - 22);
  const corner = (kind: FilterKind): number[] => group.filters.filter((f) => f.kind === kind).map(({ cornerHz }) => x(cornerHz));
  const from = Math.max(begin, ...corner('highpass'));
  const to = Math.min(end, ...corner('lowpass'));
  const range = bandOf(group);
  const limit = limitOf(group, shares[index] ?? 1);
  const isSelected = group.id === selectedId;
  return (
    <g>
      <rect
        x={0}
        y={top + 1}
        width={end + RIGHT}
        height={height - 2}
        rx={6}
        fill={isSelected ? 'var(--raised)' : 'transparent'}
        className="cursor-pointer"
        onClick={() => onSelect(group.id)}
      />
      <foreignObject x={0} y={top} width={isWide ? begin - 4 : end - 40} height={isWide ? height : 24}>
        <button
          type="button"
          onClick={() => onSelect(group.id)}
          aria-pressed={isSelected}
          className={`flex h-full w-full cursor-pointer items-center gap-2 rounded-md pl-2 text-left text-sm leading-tight ${isSelected ? 'font-semibold' : ''}`}
        >
          <span className="shrink-0">
            <CurveSample index={index} />
          </span>
          <span className="line-clamp-2">{groupName(group)}</span>
        </button>
      </foreignObject>
      <g pointerEvents="none">
        {range !== undefined && (
          <rect x={x(range.from)} y={middle - 11} width={Math.max(0, x(range.to) - x(range.from))} height={22} rx={4} fill="var(--range)" />
        )}
        {limit !== undefined && (
          <path d={`M${x(limit)} ${middle - 14}V${middle + 14}`} stroke="var(--attention)" strokeWidth="2" strokeDasharray="3 3" />
        )}
        <rect
          x={Math.min(from, to)}
          y={middle - 4}
          width={Math.abs(to - from)}
          height={8}
          rx={4}
          fill={from > to ? 'var(--stop)' : color}
        />
      </g>
      {group.filters.map((filter) => (
        <Handle
          key={filter.id}
          group={group}
          filter={filter}
          color={color}
          cx={x(filter.cornerHz)}
          cy={middle}
          toHertz={(px) => x.invert(px)}
          onSelect={() => onSelect(group.id)}
          onMove={(hertz) => onMove(group, filter, hertz)}
          onMoved={onMoved}
          onStep={(steps) => onStep(group, filter, steps)}
        />
      ))}
    </g>
  );
}

interface HandleProps {
  group: AlikeGroups;
  filter: ActiveFilter;
  color: string;
  cx: number;
  cy: number;
  toHertz: (px: number) => number;
  onSelect: () => void;
  onMove: (hertz: number) => void;
  onMoved: () => void;
  onStep: (steps: number) => void;
}

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -8, PageUp: 8 };

function Handle({ group, filter, color, cx, cy, toHertz, onSelect, onMove, onMoved, onStep }: HandleProps): JSX.Element {
  const grip = useRef<number | null>(null);
  const down = (event: PointerEvent<SVGGElement>): void => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    // Where in the handle it was taken stays under the finger.
    grip.current = event.clientX - box.left - cx;
    onSelect();
  };
  const move = (event: PointerEvent<SVGGElement>): void => {
    if (grip.current === null) return;
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    onMove(toHertz(event.clientX - box.left - grip.current));
  };
  const up = (): void => {
    if (grip.current === null) return;
    grip.current = null;
    onMoved();
  };
  const key = (event: KeyboardEvent): void => {
    const steps = STEPS[event.key];
    if (steps === undefined) return;
    event.preventDefault();
    onStep(event.shiftKey ? steps * 4 : steps);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`${groupName(group)}, ${KIND_NAMES[filter.kind].toLowerCase()}`}
      aria-valuemin={PICTURE_HZ.from}
      aria-valuemax={PICTURE_HZ.to}
      aria-valuenow={Number(significant(filter.cornerHz))}
      aria-valuetext={formatQuantity(filter.cornerHz, 'Hz')}
      className="cursor-ew-resize touch-none"
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={key}
    >
      <rect x={cx - 22} y={cy - 22} width={44} height={44} fill="transparent" />
      <path d={bracket(filter.kind, cx, cy)} fill="none" stroke={color} strokeWidth="4.5" strokeLinejoin="round" strokeLinecap="round" />
    </g>
  );
}

/** The end of a bar: a bracket that opens towards what comes through. */
const bracket = (kind: FilterKind, cx: number, cy: number): string =>
  kind === 'highpass' ? `M${cx + 7} ${cy - 13}H${cx}V${cy + 13}H${cx + 7}` : `M${cx - 7} ${cy - 13}H${cx}V${cy + 13}H${cx - 7}`;
