import { fixed, formatQuantity, type SpectrumPoint } from '@yield/core';
import ApexCharts from 'apexcharts';
import { useEffect, useRef, useState, type JSX } from 'react';
import { useTheme } from '../ui/useTheme.ts';
import type { TraceSession } from '../workers/traceSession.ts';

const POINTS = 400;
const FLOOR_DB = -100;
const DECADES = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1e3, 2e3, 5e3, 1e4, 2e4, 5e4, 1e5, 2e5, 5e5, 1e6, 1e7];

/** Level over frequency, the frequency on a logarithmic axis, against the strongest line. */
export default function SpectrumChart({
  session,
  channelIndex,
  fundamentalHz,
}: {
  session: TraceSession;
  channelIndex: number;
  fundamentalHz?: number;
}): JSX.Element {
  const [points, setPoints] = useState<SpectrumPoint[]>([]);
  const element = useRef<HTMLDivElement>(null);
  const { theme } = useTheme();
  useEffect(() => {
    let wanted = true;
    void session.spectrum(channelIndex, POINTS).then((found) => (wanted ? setPoints(found) : undefined));
    return () => {
      wanted = false;
    };
  }, [session, channelIndex]);

  useEffect(() => {
    if (element.current === null || points.length === 0) return undefined;
    const style = getComputedStyle(element.current);
    const color = (name: string): string => style.getPropertyValue(name).trim();
    const chart = new ApexCharts(element.current, options(points, color, theme === 'garage', fundamentalHz));
    void chart.render();
    return () => chart.destroy();
  }, [points, theme, fundamentalHz]);

  return (
    <section aria-label="Spectrum">
      <h2 className="text-sm font-semibold">Spectrum, dB against the strongest line</h2>
      <div ref={element} className="min-h-60" />
    </section>
  );
}

function options(
  points: readonly SpectrumPoint[],
  color: (name: string) => string,
  dark: boolean,
  fundamentalHz: number | undefined,
): ApexCharts.ApexOptions {
  const first = Math.max(points[0]?.frequencyHz ?? 1, (fundamentalHz ?? 0) / 4);
  const last = Math.min(points.at(-1)?.frequencyHz ?? 1, (fundamentalHz ?? Infinity) * 40);
  const shown = points.filter(({ frequencyHz }) => frequencyHz >= first && frequencyHz <= last);
  // ApexCharts has no logarithmic x axis: the logarithm is plotted and every tick drawn by hand.
  return {
    chart: {
      type: 'line',
      height: 240,
      animations: { enabled: false },
      toolbar: { show: false },
      zoom: { enabled: false },
      background: 'transparent',
      fontFamily: 'inherit',
    },
    series: [{ name: 'level', data: shown.map(({ frequencyHz, db }) => [Math.log10(frequencyHz), Math.max(FLOOR_DB, db)]) }],
    colors: [color('--wave-2')],
    stroke: { width: 1.6, curve: 'straight' },
    dataLabels: { enabled: false },
    markers: { size: 0 },
    grid: { borderColor: color('--line'), padding: { bottom: 14, right: 16, left: 8 } },
    xaxis: {
      type: 'numeric',
      min: Math.log10(first),
      max: Math.log10(last),
      labels: { show: false },
      axisTicks: { show: false },
      axisBorder: { show: false },
      tooltip: { enabled: false },
    },
    yaxis: {
      min: FLOOR_DB,
      max: 0,
      tickAmount: 5,
      labels: { style: { colors: color('--quiet'), fontSize: '12px' }, formatter: (db) => fixed(db, 0) },
    },
    annotations: {
      xaxis: DECADES.filter((f) => f >= first && f <= last).map((f) => ({
        x: Math.log10(f),
        strokeDashArray: 0,
        borderColor: color('--line'),
        label: {
          text: formatQuantity(f, 'Hz'),
          orientation: 'horizontal',
          position: 'bottom',
          offsetY: 16,
          borderWidth: 0,
          style: { background: 'transparent', color: color('--quiet'), fontSize: '12px' },
        },
      })),
    },
    tooltip: {
      theme: dark ? 'dark' : 'light',
      x: { formatter: (v) => formatQuantity(10 ** v, 'Hz') },
      y: { formatter: (db) => `${fixed(db, 1)} dB`, title: { formatter: () => '' } },
    },
    legend: { show: false },
  };
}
