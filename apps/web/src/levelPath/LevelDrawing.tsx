import { formatQuantity, voltageRatioDb, type LevelStage } from '@yield/core';
import { scaleLinear } from 'd3-scale';
import type { JSX } from 'react';
import { inWords, ROLE } from './stageWords.ts';

const HEIGHT = 134;
const TOP = 18;
/** room for the words under the drawing */
const BOTTOM = 64;

/** The stages side by side on one scale in decibels. */
export default function Drawing({
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
  const label = `${ROLE[id]}: ${name}`;
  const [first, second] = inTwoLines(isNarrow && ceilingWords !== '' ? `${ceilingWords} · ${label}` : label, Math.floor(width / 6.2));
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
              {over
                ? `${formatQuantity(-headroomDb, 'dB')} over`
                : headroomDb < 0.05
                  ? 'at its ceiling'
                  : `${formatQuantity(headroomDb, 'dB')} left`}
            </tspan>
          )}
          {ceilingVolt !== undefined && !isNarrow && (
            <tspan dx="10" fontSize="13" fontWeight="400" fill="var(--quiet)">
              {ceilingWords}
            </tspan>
          )}
        </text>
        <text y="18" fontSize="12" fill="var(--quiet)">
          {first}
          <tspan x="0" dy="15">
            {second}
          </tspan>
          <title>{label}</title>
        </text>
      </g>
    </g>
  );
}

/** Words in two lines of so many characters, parted between words; what is longer still ends in dots. */
function inTwoLines(words: string, fit: number): [string, string] {
  if (words.length <= fit) return [words, ''];
  const space = words.lastIndexOf(' ', fit);
  const at = space > fit / 3 ? space : fit;
  const rest = words.slice(at).trim();
  return [words.slice(0, at), rest.length > fit ? `${rest.slice(0, Math.max(1, fit - 1))}…` : rest];
}
