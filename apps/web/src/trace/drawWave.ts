import { formatQuantity, type ChannelAnalysis, fittedVolt } from '@yield/core';
import { scaleLinear, type ScaleLinear } from 'd3-scale';
import type { View } from './view.ts';

export interface WavePicture {
  width: number;
  view: View;
  sampleRateHz: number;
  startSecond: number;
  channel: ChannelAnalysis;
  /** lowest and highest value of each column */
  wave: Float32Array;
  residual: Float32Array;
}

export const AXIS_WIDTH = 58;
export const WAVE_HEIGHT = 300;
export const RESIDUAL_HEIGHT = 84;
const GAP = 26;
const AXIS_HEIGHT = 24;
export const PICTURE_HEIGHT = WAVE_HEIGHT + GAP + RESIDUAL_HEIGHT + AXIS_HEIGHT;
/** With more cycles than this in view the sine and the marks would be a solid block. */
const MAX_CYCLES_DRAWN = 60;

interface Colors {
  ink: string;
  quiet: string;
  line: string;
  wave: string;
  sine: string;
  stop: string;
}

/** Draws waveform, fitted sine, flat parts and residual onto a canvas of the page's theme. */
export function drawWave(canvas: HTMLCanvasElement, picture: WavePicture): void {
  const context = canvas.getContext('2d');
  if (context === null) return;
  const ratio = window.devicePixelRatio;
  canvas.width = Math.round(picture.width * ratio);
  canvas.height = Math.round(PICTURE_HEIGHT * ratio);
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, picture.width, PICTURE_HEIGHT);
  context.font = '12px "IBM Plex Sans", sans-serif';
  const colors = themeColors(canvas);
  const plotWidth = picture.width - AXIS_WIDTH;

  const { channel } = picture;
  const reach = 1.12 * Math.max(Math.abs(channel.peakPositiveVolt), Math.abs(channel.peakNegativeVolt), fittedPeak(channel), 1e-9);
  const y = scaleLinear().domain([-reach, reach]).range([WAVE_HEIGHT, 0]);
  drawVoltAxis(context, y, 5, picture.width, colors, 0);
  drawTimeAxis(context, picture, plotWidth, colors);
  drawColumns(context, picture.wave, plotWidth, (v) => y(v), colors.wave);
  const cycles =
    channel.fundamentalHz === undefined ? Infinity : ((picture.view.to - picture.view.from) / picture.sampleRateHz) * channel.fundamentalHz;
  if (cycles <= MAX_CYCLES_DRAWN) {
    drawFlats(context, picture, plotWidth, y, colors);
    drawSine(context, picture, plotWidth, y, colors);
  }
  drawResidual(context, picture, plotWidth, colors);
}

function themeColors(canvas: HTMLCanvasElement): Colors {
  const style = getComputedStyle(canvas);
  const value = (name: string): string => style.getPropertyValue(name).trim();
  return {
    ink: value('--ink'),
    quiet: value('--quiet'),
    line: value('--line'),
    wave: value('--wave-1'),
    sine: value('--wave-3'),
    stop: value('--stop'),
  };
}

const fittedPeak = ({ fit }: ChannelAnalysis): number => (fit === undefined ? 0 : fit.amplitudeVolt + Math.abs(fit.offsetVolt));

function drawVoltAxis(
  context: CanvasRenderingContext2D,
  y: ScaleLinear<number, number>,
  count: number,
  width: number,
  colors: Colors,
  top: number,
): void {
  const ticks = y.ticks(count);
  context.strokeStyle = colors.line;
  context.fillStyle = colors.quiet;
  context.lineWidth = 1;
  context.textAlign = 'right';
  context.textBaseline = 'middle';
  for (const tick of ticks) {
    const at = Math.round(top + y(tick)) + 0.5;
    context.beginPath();
    context.moveTo(AXIS_WIDTH, at);
    context.lineTo(width, at);
    context.stroke();
    if (at > top + 6) context.fillText(formatQuantity(tick, 'V'), AXIS_WIDTH - 8, at);
  }
}

function drawTimeAxis(
  context: CanvasRenderingContext2D,
  { view, sampleRateHz, startSecond }: WavePicture,
  plotWidth: number,
  colors: Colors,
): void {
  const x = scaleLinear()
    .domain([startSecond + view.from / sampleRateHz, startSecond + view.to / sampleRateHz])
    .range([AXIS_WIDTH, AXIS_WIDTH + plotWidth]);
  context.fillStyle = colors.quiet;
  context.textAlign = 'center';
  context.textBaseline = 'top';
  const span = (view.to - view.from) / sampleRateHz;
  const [factor, unit] = span < 2e-3 ? [1e6, 'µs'] : span < 2 ? [1e3, 'ms'] : [1, 's'];
  for (const tick of x.ticks(Math.max(2, Math.floor(plotWidth / 110)))) {
    const at = x(tick);
    context.fillRect(Math.round(at), PICTURE_HEIGHT - AXIS_HEIGHT, 1, 5);
    const words = `${Number((tick * factor).toPrecision(6))} ${unit}`.replace('-', '−');
    const half = context.measureText(words).width / 2;
    context.fillText(words, Math.min(AXIS_WIDTH + plotWidth - half, Math.max(AXIS_WIDTH + half, at)), PICTURE_HEIGHT - AXIS_HEIGHT + 8);
  }
}

function drawColumns(
  context: CanvasRenderingContext2D,
  values: Float32Array,
  plotWidth: number,
  y: (v: number) => number,
  color: string,
): void {
  const columns = values.length / 2;
  const step = plotWidth / columns;
  context.strokeStyle = color;
  context.lineWidth = 1.6;
  context.lineJoin = 'round';
  context.beginPath();
  let started = false;
  for (let column = 0; column < columns; column += 1) {
    const low = values[2 * column] as number;
    const high = values[2 * column + 1] as number;
    if (Number.isNaN(low)) continue;
    const x = AXIS_WIDTH + (column + 0.5) * step;
    if (started) context.lineTo(x, y(high));
    else context.moveTo(x, y(high));
    started = true;
    if (low !== high) context.lineTo(x, y(low));
  }
  context.stroke();
}

function drawSine(
  context: CanvasRenderingContext2D,
  { view, sampleRateHz, channel: { fit } }: WavePicture,
  plotWidth: number,
  y: (v: number) => number,
  colors: Colors,
): void {
  if (fit === undefined) return;
  context.strokeStyle = colors.sine;
  context.lineWidth = 1.5;
  context.setLineDash([6, 4]);
  context.beginPath();
  for (let px = 0; px <= plotWidth; px += 1) {
    const n = view.from + (px / plotWidth) * (view.to - view.from);
    const value = fittedVolt(fit, n / sampleRateHz);
    if (px === 0) context.moveTo(AXIS_WIDTH, y(value));
    else context.lineTo(AXIS_WIDTH + px, y(value));
  }
  context.stroke();
  context.setLineDash([]);
}

/** A bar along each flattened crest, outside the wave, as wide as the flat. */
function drawFlats(
  context: CanvasRenderingContext2D,
  picture: WavePicture,
  plotWidth: number,
  y: (v: number) => number,
  colors: Colors,
): void {
  const { fit, clipping, peakPositiveVolt, peakNegativeVolt } = picture.channel;
  if (fit === undefined) return;
  const { from, to } = picture.view;
  const cycle = picture.sampleRateHz / fit.frequencyHz;
  const crest = (-fit.phaseRad / (2 * Math.PI)) * cycle;
  const x = (n: number): number => AXIS_WIDTH + ((n - from) / (to - from)) * plotWidth;
  context.fillStyle = colors.stop;
  const sides = [
    { fraction: clipping.positiveFlatFraction, shift: 0, at: y(peakPositiveVolt) - 9 },
    { fraction: clipping.negativeFlatFraction, shift: cycle / 2, at: y(peakNegativeVolt) + 5 },
  ];
  for (const { fraction, shift, at } of sides) {
    if (fraction === 0) continue;
    const half = (fraction * cycle) / 4;
    for (let k = Math.floor((from - crest - shift) / cycle); crest + shift + k * cycle - half < to; k += 1) {
      const middle = crest + shift + k * cycle;
      const left = Math.max(AXIS_WIDTH, x(middle - half));
      const right = Math.min(AXIS_WIDTH + plotWidth, x(middle + half));
      if (right > left) context.fillRect(left, at, right - left, 4);
    }
  }
}

function drawResidual(context: CanvasRenderingContext2D, { residual, width }: WavePicture, plotWidth: number, colors: Colors): void {
  const top = WAVE_HEIGHT + GAP;
  const finite = residual.filter((v) => Number.isFinite(v));
  const reach =
    1.15 *
    Math.max(
      1e-9,
      finite.reduce((most, v) => Math.max(most, Math.abs(v)), 0),
    );
  const y = scaleLinear().domain([-reach, reach]).range([RESIDUAL_HEIGHT, 0]);
  context.fillStyle = colors.quiet;
  context.textAlign = 'left';
  context.textBaseline = 'bottom';
  context.fillText('Residual: what the fitted sine leaves', AXIS_WIDTH, top - 6);
  drawVoltAxis(context, y, 3, width, colors, top);
  drawColumns(context, residual, plotWidth, (v) => top + y(v), colors.ink);
}
