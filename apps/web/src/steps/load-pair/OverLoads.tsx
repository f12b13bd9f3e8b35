import { formatQuantity, type Sag } from '@yield/core';
import type { JSX } from 'react';
import { useWidth } from '../../ui/useWidth.ts';

const HEIGHT = 208;
const LEFT = 8;
/** Volts hang in the upper band, watts stand in the lower one. */
const VOLT = { top: 40, bottom: 92 };
const WATT = { top: 128, bottom: 182 };
const BAR = 26;

export interface AtLoad {
  loadOhm: number;
  voltageRms: number;
  powerWatt: number;
  isMeasured: boolean;
}

/** One knob over all loads: the voltage hardly moves, the power follows the load. */
export function OverLoads({ unloadedVolt, measured, sag }: { unloadedVolt: number; measured: AtLoad; sag: Sag }): JSX.Element {
  const [ref, width] = useWidth();
  const all = [...sag.predictions.map((each) => ({ ...each, isMeasured: false })), measured].sort((a, b) => b.loadOhm - a.loadOhm);
  const drawn = Math.min(width, 640);
  const slot = (drawn - 2 * LEFT) / all.length;
  const x = (index: number): number => LEFT + slot * (index + 0.5);
  const yVolt = (volt: number): number => VOLT.bottom - (volt / unloadedVolt) * (VOLT.bottom - VOLT.top);
  const mostWatt = Math.max(...all.map(({ powerWatt }) => powerWatt));
  const yWatt = (watt: number): number => WATT.bottom - (watt / mostWatt) * (WATT.bottom - WATT.top);
  return (
    <figure ref={ref} className="min-w-0 max-w-2xl" aria-label="At this knob, into other loads">
      {width > 0 && (
        <svg
          width={drawn}
          height={HEIGHT}
          role="img"
          aria-label={`At this knob: ${all.map(({ loadOhm, voltageRms, powerWatt }) => `${formatQuantity(loadOhm, 'ohm')} gets ${formatQuantity(voltageRms, 'V')} and ${formatQuantity(powerWatt, 'W')}`).join('; ')}`}
        >
          <line x1={LEFT} x2={drawn - LEFT} y1={yVolt(unloadedVolt)} y2={yVolt(unloadedVolt)} stroke="var(--quiet)" strokeDasharray="1 4" />
          <text x={LEFT} y={14} fontSize="13" fill="var(--quiet)">
            {formatQuantity(unloadedVolt, 'V')} without load
          </text>
          <polyline
            points={all.map(({ voltageRms }, index) => `${x(index)},${yVolt(voltageRms)}`).join(' ')}
            fill="none"
            stroke="var(--action)"
            strokeWidth="2.5"
          />
          <line x1={LEFT} x2={drawn - LEFT} y1={WATT.bottom} y2={WATT.bottom} stroke="var(--line)" />
          {all.map(({ loadOhm, voltageRms, powerWatt, isMeasured }, index) => (
            <g key={loadOhm} textAnchor="middle">
              <circle
                cx={x(index)}
                cy={yVolt(voltageRms)}
                r="5"
                fill={isMeasured ? 'var(--action)' : 'var(--ground)'}
                stroke="var(--action)"
                strokeWidth="2"
              />
              <text x={x(index)} y={yVolt(voltageRms) + 22} fontSize="14" fontWeight="600" fill="currentColor">
                {formatQuantity(voltageRms, 'V')}
              </text>
              <rect
                x={x(index) - BAR / 2}
                width={BAR}
                y={yWatt(powerWatt)}
                height={WATT.bottom - yWatt(powerWatt)}
                fill="var(--quiet)"
                fillOpacity={isMeasured ? 0.75 : 0.35}
              />
              <text x={x(index)} y={yWatt(powerWatt) - 5} fontSize="13" fill="currentColor">
                {formatQuantity(powerWatt, 'W')}
              </text>
              <text x={x(index)} y={HEIGHT - 6} fontSize="13" fontWeight={isMeasured ? 600 : 400} fill="currentColor">
                {formatQuantity(loadOhm, 'ohm')}
                {isMeasured ? ', measured' : ''}
              </text>
            </g>
          ))}
        </svg>
      )}
      <figcaption className="text-quiet mt-2 text-sm leading-snug">
        A gain is a voltage: another load gets nearly the same of it, and nothing has to be set again. Power and current follow the load, as
        long as rails and supply hold out.
      </figcaption>
    </figure>
  );
}
