import { formatQuantity } from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { CurveSample, lookOf } from '../../ui/curveLooks.tsx';
import { FrequencyAxes } from '../../ui/FrequencyAxes.tsx';
import { useWidth } from '../../ui/useWidth.ts';

const HEIGHT = 210;
const MARGIN = { top: 12, right: 52, bottom: 28, left: 40 };

/** Impedance over frequency, and the power that it takes of the voltage that was read; the tone is marked. */
export function ImpedancePicture({
  curve,
  nominalOhm,
  toneHz,
  range,
  powerAt,
}: {
  curve: readonly { hertz: number; ohm: number }[];
  nominalOhm: number;
  toneHz: number;
  range: { from: number; to: number };
  /** undefined where no voltage was read */
  powerAt: (hertz: number) => number | undefined;
}): JSX.Element {
  const [ref, width] = useWidth();
  const right = Math.max(MARGIN.left + 10, width - MARGIN.right);
  const x = scaleLog().domain([range.from, range.to]).range([MARGIN.left, right]);
  const y = scaleLinear()
    .domain([0, Math.max(2 * nominalOhm, ...curve.map(({ ohm }) => ohm))])
    .nice(4)
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const powers = curve.flatMap(({ hertz }) => {
    const watt = powerAt(hertz);
    return watt === undefined ? [] : [{ hertz, watt }];
  });
  const yPower = scaleLinear()
    .domain([0, Math.max(1, ...powers.map(({ watt }) => watt))])
    .nice(4)
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const [ohmLook, wattLook] = [lookOf(0), lookOf(1)];
  const atTone = curve.reduce<{ hertz: number; ohm: number } | undefined>(
    (best, each) => (best === undefined || Math.abs(Math.log(each.hertz / toneHz)) < Math.abs(Math.log(best.hertz / toneHz)) ? each : best),
    undefined,
  );
  const isToneInside = toneHz >= range.from && toneHz <= range.to;
  return (
    <figure ref={ref} className="min-w-0 max-w-3xl">
      {width > 0 && (
        <svg
          width={Math.min(width, 768)}
          height={HEIGHT}
          role="img"
          aria-label={`Impedance over frequency; ${formatQuantity(atTone?.ohm ?? 0, 'ohm')} at the tone`}
        >
          <FrequencyAxes x={x} y={y} ticks={y.ticks(4)} strongAt={0} signed={false} />
          <line x1={MARGIN.left} x2={right} y1={y(nominalOhm)} y2={y(nominalOhm)} stroke="var(--quiet)" strokeDasharray="1 4" />
          {isToneInside && (
            <>
              <line x1={x(toneHz)} x2={x(toneHz)} y1={MARGIN.top} y2={HEIGHT - MARGIN.bottom} stroke="var(--action)" strokeWidth="1.5" />
              <text x={x(toneHz) + 5} y={MARGIN.top + 9} fontSize="12" fill="var(--action)">
                {formatQuantity(toneHz, 'Hz')}
              </text>
            </>
          )}
          <path
            d={
              line<{ hertz: number; ohm: number }>(
                ({ hertz }) => x(hertz),
                ({ ohm }) => y(ohm),
              )([...curve]) ?? ''
            }
            fill="none"
            stroke={ohmLook.color}
            strokeWidth="2.5"
          />
          {powers.length > 1 && (
            <>
              <path
                d={
                  line<{ hertz: number; watt: number }>(
                    ({ hertz }) => x(hertz),
                    ({ watt }) => yPower(watt),
                  )(powers) ?? ''
                }
                fill="none"
                stroke={wattLook.color}
                strokeWidth="2"
                strokeDasharray={wattLook.dash}
              />
              {yPower.ticks(4).map((watt) => (
                <text key={watt} x={right + 6} y={yPower(watt) + 4} fontSize="12" fill="var(--quiet)" aria-hidden>
                  {formatQuantity(watt, 'W')}
                </text>
              ))}
            </>
          )}
        </svg>
      )}
      <figcaption className="text-quiet mt-1 flex flex-wrap gap-x-5 text-sm">
        <span>
          <CurveSample index={0} /> ohms, the dotted line is nominal
        </span>
        {powers.length > 1 && (
          <span>
            <CurveSample index={1} /> power at the voltage that was read
          </span>
        )}
      </figcaption>
    </figure>
  );
}
