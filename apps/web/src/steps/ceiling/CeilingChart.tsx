import { formatQuantity, type CeilingCurve } from '@yield/core';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { CurveSample, lookOf } from '../../ui/curveLooks.tsx';
import { useWidth } from '../../ui/useWidth.ts';

const HEIGHT = 300;
const MARGIN = { top: 26, right: 12, bottom: 34, left: 44 };
/** Volume against voltage, every case with its clean ceiling. */
export function CeilingChart({
  curves,
  volumeSteps,
  workingVolume,
}: {
  curves: readonly CeilingCurve[];
  volumeSteps: number;
  workingVolume: number;
}): JSX.Element {
  const [ref, width] = useWidth();
  const steps = curves.flatMap(({ rows }) => rows.map(({ step }) => step));
  const volts = curves.flatMap(({ rows }) => rows.map(({ voltageRms }) => voltageRms ?? 0));
  const x = scaleLinear()
    .domain([Math.min(...steps, workingVolume) - 1, Math.min(volumeSteps, Math.max(...steps, workingVolume)) + 1])
    .range([MARGIN.left, width - MARGIN.right]);
  const y = scaleLinear()
    .domain([0, Math.max(1, ...volts) * 1.12])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  return (
    <figure className="min-w-0">
      <div ref={ref}>
        {width > 0 && (
          <svg width={width} height={HEIGHT} role="img" aria-label={curves.map(inWords).join('; ')}>
            {y.ticks(5).map((volt) => (
              <g key={volt}>
                <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(volt)} y2={y(volt)} stroke="var(--line)" />
                <text x={MARGIN.left - 8} y={y(volt) + 4} fontSize="12" textAnchor="end" fill="var(--quiet)">
                  {volt}
                </text>
              </g>
            ))}
            <text x={MARGIN.left - 8} y={12} fontSize="12" textAnchor="end" fill="var(--quiet)">
              V
            </text>
            {x
              .ticks(Math.min(12, width / 50))
              .filter((step) => Number.isInteger(step))
              .map((step) => (
                <text key={step} x={x(step)} y={HEIGHT - MARGIN.bottom + 18} fontSize="12" textAnchor="middle" fill="var(--quiet)">
                  {step}
                </text>
              ))}
            <text x={width - MARGIN.right} y={HEIGHT - 2} fontSize="12" textAnchor="end" fill="var(--quiet)">
              volume
            </text>
            <line
              x1={x(workingVolume)}
              x2={x(workingVolume)}
              y1={MARGIN.top}
              y2={HEIGHT - MARGIN.bottom}
              stroke="var(--ink)"
              strokeDasharray="1 4"
              strokeLinecap="round"
            />
            <text x={x(workingVolume)} y={12} fontSize="12" textAnchor="middle" fill="var(--ink)">
              working volume
            </text>
            {curves.map((curve, i) => (
              <Curve key={keyOf(curve)} curve={curve} index={i} x={x} y={y} />
            ))}
            {curves.map((curve, i) => (
              <CeilingMark key={keyOf(curve)} curve={curve} color={lookOf(i).color} x={x} y={y} />
            ))}
          </svg>
        )}
      </div>
      <figcaption className="flex flex-wrap gap-x-5 gap-y-1 pl-11 text-sm">
        {curves.map((curve, i) => (
          <span key={keyOf(curve)} className="flex items-center gap-2">
            <CurveSample index={i} />
            {curve.settingsCase.name}, {formatQuantity(curve.toneHz, 'Hz')}
            <span className="text-quiet">{curve.fullScaleStep === undefined ? 'no ceiling yet' : `clean to ${curve.fullScaleStep}`}</span>
          </span>
        ))}
      </figcaption>
    </figure>
  );
}

type Scale = (value: number) => number;

function Curve({ curve, index, x, y }: { curve: CeilingCurve; index: number; x: Scale; y: Scale }): JSX.Element {
  const look = lookOf(index);
  const points = curve.rows.flatMap(({ step, voltageRms }): [number, number][] =>
    voltageRms === undefined || voltageRms === 0 ? [] : [[x(step), y(voltageRms)]],
  );
  return (
    <g>
      <path d={line()(points) ?? ''} fill="none" stroke={look.color} strokeWidth="2" strokeDasharray={look.dash} />
      {points.map(([cx, cy]) => (
        <circle key={cx} cx={cx} cy={cy} r="2.5" fill={look.color} />
      ))}
    </g>
  );
}

/** The house mark at the highest clean step, over every curve. */
function CeilingMark({ curve, color, x, y }: { curve: CeilingCurve; color: string; x: Scale; y: Scale }): JSX.Element | null {
  const at = curve.rows.find(({ step }) => step === curve.fullScaleStep);
  if (at?.voltageRms === undefined) return null;
  const top = { x: x(at.step), y: y(at.voltageRms) };
  return (
    <g>
      <path d={`M${top.x - 9} ${top.y - 18}h18l-9 14z`} fill={color} />
      <text
        x={top.x}
        y={top.y - 23}
        fontSize="13"
        fontWeight="600"
        textAnchor="middle"
        fill="var(--ink)"
        stroke="var(--ground)"
        strokeWidth="4"
        paintOrder="stroke"
      >
        {curve.fullScaleStep}
      </text>
    </g>
  );
}

const keyOf = ({ settingsCase, toneHz }: CeilingCurve): string => `${settingsCase.id}/${toneHz}`;

function inWords({ settingsCase, toneHz, rows, fullScaleStep }: CeilingCurve): string {
  const ceiling = fullScaleStep === undefined ? 'no ceiling yet' : `clean up to ${fullScaleStep}`;
  return `${settingsCase.name} with ${formatQuantity(toneHz, 'Hz')}: ${rows.length} steps, ${ceiling}`;
}
