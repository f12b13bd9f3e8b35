import { formatQuantity, voltageRatioDb, weakestStage, type LevelStage } from '@yield/core';
import { scaleLinear } from 'd3-scale';
import type { JSX } from 'react';
import { useWidth } from '../ui/useWidth.ts';

const HEIGHT = 118;
const TOP = 18;
/** room for the words under the drawing */
const BOTTOM = 48;
const PHONE = 520;
const ROLE: Record<LevelStage['id'], string> = { source: 'Source', processor: 'Processor', amplifier: 'Amplifier', drivers: 'Drivers' };

/** The chain on one scale: at each stage the level of a full-scale tone now, its clean ceiling, and the headroom between. */
export function LevelPath({
  title,
  stages,
  folded = false,
}: {
  title: string;
  stages: readonly LevelStage[];
  /** one line, while nothing on the path can change */
  folded?: boolean;
}): JSX.Element {
  const [ref, width] = useWidth();
  const weakest = weakestStage(stages);
  return (
    <section aria-label={`Level path of ${title}`} className="bg-raised rounded-lg px-4 pt-3 pb-2">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2 className="text-sm font-semibold">Level path, full-scale tone</h2>
        <p className="text-quiet text-sm">{weakestWords(weakest)}</p>
      </div>
      <div ref={ref} className={folded ? 'hidden' : 'mt-1'}>
        {width > 0 && width < PHONE && weakest !== undefined && <StageFigures stage={weakest} />}
        {width >= PHONE && <Drawing stages={stages} width={width} {...(weakest === undefined ? {} : { weakestId: weakest.id })} />}
      </div>
    </section>
  );
}

function weakestWords(weakest: LevelStage | undefined): string {
  if (weakest?.headroomDb === undefined) return 'Take a reading to see the headroom.';
  const name = ROLE[weakest.id].toLowerCase();
  if (weakest.headroomDb < -0.05) return `The ${name} runs ${formatQuantity(-weakest.headroomDb, 'dB')} over its ceiling.`;
  return `Least headroom: ${name}, ${formatQuantity(weakest.headroomDb, 'dB')}.`;
}

function Drawing({
  stages,
  width,
  weakestId,
}: {
  stages: readonly LevelStage[];
  width: number;
  weakestId?: LevelStage['id'];
}): JSX.Element {
  const volts = stages.flatMap(({ nowVolt, ceilingVolt }) => [nowVolt, ceilingVolt]).filter((v): v is number => v !== undefined && v > 0);
  const levels = volts.map((v) => voltageRatioDb(v, 1));
  const y = scaleLinear()
    .domain([Math.min(0, ...levels) - 2, Math.max(12, ...levels) + 2])
    .range([HEIGHT - BOTTOM, TOP]);
  const at = (volt: number): number => y(voltageRatioDb(volt, 1));
  const axisWidth = 44;
  const column = (width - axisWidth) / stages.length;
  const x = (index: number): number => axisWidth + index * column + 22;
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={stages.map(inWords).join('; ')}>
      {y.ticks(3).map((db) => (
        <g key={db}>
          <line x1={axisWidth} x2={width} y1={y(db)} y2={y(db)} stroke="var(--line)" />
          <text x={axisWidth - 8} y={y(db) + 4} textAnchor="end" fontSize="11" fill="var(--quiet)">
            {db === 0 ? '1 V' : `+${db}`.replace('+-', '−')}
          </text>
        </g>
      ))}
      <text x={axisWidth - 8} y={12} textAnchor="end" fontSize="11" fill="var(--quiet)">
        dB
      </text>
      {stages.slice(1).map((stage, i) => {
        const from = stages[i]?.nowVolt;
        return from === undefined || stage.nowVolt === undefined ? null : (
          <line
            key={stage.id}
            x1={x(i)}
            x2={x(i + 1)}
            y1={at(from)}
            y2={at(stage.nowVolt)}
            stroke="var(--action)"
            strokeWidth="1.5"
            strokeDasharray="2 4"
          />
        );
      })}
      {stages.map((stage, i) => (
        <Stage key={stage.id} stage={stage} x={x(i)} width={column - 12} at={at} weakest={stage.id === weakestId} />
      ))}
    </svg>
  );
}

function Stage({
  stage,
  x,
  width,
  at,
  weakest,
}: {
  stage: LevelStage;
  x: number;
  width: number;
  at: (volt: number) => number;
  weakest: boolean;
}): JSX.Element {
  const { nowVolt, ceilingVolt, ceilingBasis, headroomDb, name, id } = stage;
  const over = headroomDb !== undefined && headroomDb < -0.05;
  const tone = over ? 'var(--stop)' : weakest ? 'var(--attention)' : 'var(--ink)';
  const assumed = ceilingBasis === 'assumed';
  const ceilingWords = ceilingVolt === undefined ? '' : `of ${formatQuantity(ceilingVolt, 'V')} ${ceilingBasis}`;
  // Where four stages share the width, the ceiling's words go down into the second line.
  const isNarrow = width < 240;
  const label = `${isNarrow && ceilingWords !== '' ? `${ceilingWords} · ` : ''}${ROLE[id]}: ${name}`;
  const fit = Math.max(8, Math.floor(width / 6.2));
  return (
    <g>
      {nowVolt !== undefined && ceilingVolt !== undefined && (
        <rect
          x={x - 5}
          width={10}
          y={Math.min(at(nowVolt), at(ceilingVolt))}
          height={Math.max(1, Math.abs(at(nowVolt) - at(ceilingVolt)))}
          fill={tone}
          opacity={0.25}
        />
      )}
      {ceilingVolt !== undefined && (
        <path
          d={`M${x - 9} ${at(ceilingVolt) - 13}h18l-9 13z`}
          fill={assumed ? 'var(--raised)' : tone}
          stroke={tone}
          strokeWidth="1.5"
          {...(assumed ? { strokeDasharray: '3 2' } : {})}
        />
      )}
      {nowVolt !== undefined && <line x1={x - 12} x2={x + 12} y1={at(nowVolt)} y2={at(nowVolt)} stroke="var(--action)" strokeWidth="4" />}
      <g transform={`translate(${x - 12}, ${HEIGHT - BOTTOM + 24})`} fill="var(--ink)">
        <text fontWeight="600" fontSize="16">
          {nowVolt === undefined ? 'not read yet' : formatQuantity(nowVolt, 'V')}
          {headroomDb !== undefined && (
            <tspan dx="10" fontSize="13" fontWeight="500" fill={tone}>
              {over ? `${formatQuantity(-headroomDb, 'dB')} over` : `${formatQuantity(Math.max(0, headroomDb), 'dB')} left`}
            </tspan>
          )}
          {ceilingVolt !== undefined && !isNarrow && (
            <tspan dx="10" fontSize="13" fontWeight="400" fill="var(--quiet)">
              {ceilingWords}
            </tspan>
          )}
        </text>
        <text y="18" fontSize="12" fill="var(--quiet)">
          {label.length > fit ? `${label.slice(0, fit - 1)}…` : label}
          <title>{label}</title>
        </text>
      </g>
    </g>
  );
}

/** At phone width only the weakest stage is shown. */
function StageFigures({ stage }: { stage: LevelStage }): JSX.Element {
  return (
    <p className="pb-1">
      <span className="text-quiet">{ROLE[stage.id]}: </span>
      <span className="font-semibold">{stage.nowVolt === undefined ? 'not read yet' : formatQuantity(stage.nowVolt, 'V')}</span>
      {stage.ceilingVolt !== undefined && <span className="text-quiet"> of {formatQuantity(stage.ceilingVolt, 'V')}</span>}
    </p>
  );
}

function inWords({ id, nowVolt, ceilingVolt }: LevelStage): string {
  const now = nowVolt === undefined ? 'not read yet' : formatQuantity(nowVolt, 'V');
  return `${ROLE[id]} ${now}${ceilingVolt === undefined ? '' : `, ceiling ${formatQuantity(ceilingVolt, 'V')}`}`;
}
