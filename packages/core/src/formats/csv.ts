import { captureError } from '../coreError.ts';
import { newSamples, type Samples } from '../numerics/samples.ts';
import type { Arrival } from './arrival.ts';
import type { Capture } from './capture.ts';
import { findCsvLayout, lineTooLong, MAX_LINE_BYTES, parseCell, splitCells, type CsvLayout } from './csvLayout.ts';

const LF = 0x0a;
const CR = 0x0d;
const MINUS = 0x2d;
const PLUS = 0x2b;
const ZERO = 0x30;
const LOWER_E = 0x65;
const UPPER_E = 0x45;
const FOUR_ZEROS = 0x30303030;
const FOUR_SIXES = 0x06060606;
const HIGH_BITS = 0xf0f0f0f0;
const EVERY_OTHER = 0x00ff00ff;

// Powers of ten up to 1e22 are exact in a double, so mantissa × or ÷ one of them is correctly rounded.
const POW10 = Float64Array.from({ length: 23 }, (_, i) => 10 ** i);

/** Rows of a capture, column by column; those of all its parts, in order, make it up. */
export interface CsvRows {
  layout: CsvLayout;
  rows: number;
  columns: Samples[];
}

/** A part of a file, for a thread of its own: the rows that begin in it. From 0 for the first row to 1 for the end. */
export interface FilePart {
  from: number;
  to: number;
}

const WHOLE: FilePart = { from: 0, to: 1 };

/**
 * Reads the rows of a CSV capture from its bytes.
 *
 * Understood: a preamble, a header, a units row, comments, comma, semicolon, tab or spaces, decimal comma, CRLF, a byte
 * order mark, trailing separators, time in s, ms, us or ns, or a count of samples with an interval.
 *
 * @param probe - factor on every voltage
 * @param part - where threads share a file: the columns then lie in shared memory, and the numbers of rows in messages are the part's own
 * @param arrival - where the file is still coming in; its head is there
 * @throws {CoreError} `CAPTURE_*`; messages name the line and the channel
 */
export function readCsvRows(bytes: Uint8Array, probe: number, part: FilePart = WHOLE, arrival?: Arrival): CsvRows {
  const layout = findCsvLayout(bytes);
  const at = (share: number): number => layout.dataAt + Math.round((bytes.length - layout.dataAt) * share);
  const start = part.from === 0 ? layout.dataAt : firstRowFrom(bytes, at(part.from), arrival);
  const end = at(part.to);
  const columns = new GrowingColumns(layout, probe, estimateRows(bytes, layout.dataAt, end - start), part !== WHOLE);
  return { layout, ...readRows(bytes, start, end, layout, columns, arrival) };
}

/**
 * A capture of all its rows.
 *
 * @param channels - from and to before which of them, where threads share them; only the first one's thread looks whether time runs evenly
 * @throws {CoreError} `CAPTURE_*` for a time base that cannot be
 */
export function captureOfRows(parts: readonly CsvRows[], [from, to]: readonly [number, number] = [0, Infinity]): Capture {
  const [{ layout, columns }] = parts as [CsvRows];
  const rows = parts.reduce((sum, part) => sum + part.rows, 0);
  if (rows < 2) throw captureError('CAPTURE_NO_DATA', 'The file holds a single row of figures. A capture needs many: save it again.');
  const hasTimeColumn = layout.firstColumn !== 'channel';
  if (hasTimeColumn && from === 0) checkTimes(parts.map((part) => part.columns[0]!));
  const firstChannel = hasTimeColumn ? 1 : 0;
  const channels = layout.channelNames.slice(from, to);
  return {
    format: 'csv',
    ...timeBaseOf(parts),
    channels: columns
      .slice(firstChannel)
      .slice(from, to)
      .map((_, i) => ({ name: channels[i] ?? `Channel ${from + i + 1}`, samples: joinedColumn(parts, firstChannel + from + i) })),
    notes: [],
    calibrated: true,
  };
}

function joinedColumn(parts: readonly CsvRows[], column: number): Samples {
  const pieces = parts.map(({ columns }) => columns[column]!);
  const [first] = pieces as [Samples];
  if (pieces.length === 1) return first;
  const all = newSamples(
    pieces.reduce((sum, { length }) => sum + length, 0),
    first instanceof Float64Array ? 0 : Infinity,
  );
  let at = 0;
  for (const piece of pieces) {
    all.set(piece, at);
    at += piece.length;
  }
  return all;
}

/** Where the first row begins that begins here or later. */
function firstRowFrom(bytes: Uint8Array, from: number, arrival: Arrival | undefined): number {
  arrival?.until(Math.min(bytes.length, from + MAX_LINE_BYTES));
  const lineEnd = endOfLine(bytes, from - 1);
  return lineEnd + (bytes[lineEnd] === CR && bytes[lineEnd + 1] === LF ? 2 : 1);
}

/** How far one call of the hot loop runs. Short calls let the engine swap in its optimised version early in a long file. */
const STRETCH_BYTES = 1 << 16;
/** Rows that are read before they go to their columns: a table that stays in the processor's cache. */
const BLOCK_ROWS = 1 << 13;

/**
 * All figures, column by column. One pass over the bytes: a million rows must not become a million strings.
 *
 * Plain rows are read in the hot loop; any other line goes through `readRowSlowly`, which also finds what is wrong with it.
 */
function readRows(
  bytes: Uint8Array,
  start: number,
  end: number,
  layout: CsvLayout,
  columns: GrowingColumns,
  arrival: Arrival | undefined,
): Omit<CsvRows, 'layout'> {
  const { columnCount } = layout;
  let there = 0;
  // Up to here a line feed is sure to come, and four bytes after it, so that the hot loop needs no check for the end within a number.
  let safeEnd = 0;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const waitFor = (count: number): void => {
    there = arrival === undefined ? bytes.length : arrival.until(Math.min(count, bytes.length));
    safeEnd = there > 4 ? bytes.lastIndexOf(LF, there - 5) + 1 : 0;
  };
  const block = new Float64Array(BLOCK_ROWS * columnCount);
  const cursor: Cursor = { at: start, row: 0 };

  while (cursor.at < end) {
    if (cursor.row === BLOCK_ROWS) columns.take(block, cursor);
    if (there < bytes.length && there < cursor.at + STRETCH_BYTES) waitFor(cursor.at + STRETCH_BYTES);
    const stretchEnd = Math.min(safeEnd, end, cursor.at + STRETCH_BYTES);
    readPlainRows(bytes, view, stretchEnd, layout, block, cursor);
    if (cursor.at >= stretchEnd && cursor.at < safeEnd) continue;
    if (cursor.row === BLOCK_ROWS || cursor.at >= end) continue;
    if (cursor.at >= safeEnd && there < bytes.length) {
      waitFor(there + STRETCH_BYTES);
      continue;
    }
    const lineEnd = endOfLine(bytes, cursor.at);
    if (lineEnd - cursor.at > MAX_LINE_BYTES) throw lineTooLong(lineNumberAt(bytes, cursor.at));
    const line = readRowSlowly(textOf(bytes, cursor.at, lineEnd), layout);
    if (line.kind === 'unreadable') throw rowError(line.cells, lineNumberAt(bytes, cursor.at), layout, columns.rows + cursor.row);
    if (line.kind === 'row') {
      for (let column = 0; column < columnCount; column += 1) block[column * BLOCK_ROWS + cursor.row] = line.values[column]!;
      cursor.row += 1;
    }
    cursor.at = lineEnd + (bytes[lineEnd] === CR && bytes[lineEnd + 1] === LF ? 2 : 1);
  }
  columns.take(block, cursor);
  return columns.all();
}

/** Columns in their unit that have room for as many rows as the file seems to hold, and grow where it holds more. */
class GrowingColumns {
  rows = 0;
  #capacity: number;
  readonly #isShared: boolean;
  #columns: { samples: Samples; factor: number; name?: string }[];

  constructor(
    { columnCount, firstColumn, channelNames, channelFactors }: CsvLayout,
    probe: number,
    expectedRows: number,
    isShared: boolean,
  ) {
    this.#capacity = expectedRows;
    this.#isShared = isShared;
    const firstChannel = firstColumn === 'channel' ? 0 : 1;
    this.#columns = Array.from({ length: columnCount }, (_, i) => {
      // Time needs all its digits: the sample rate is read off differences.
      if (i < firstChannel) return { samples: newSamples(expectedRows, 0, isShared), factor: 1 };
      const channel = i - firstChannel;
      return {
        samples: newSamples(expectedRows, expectedRows * columnCount, isShared),
        factor: (channelFactors[channel] ?? 1) * probe,
        name: channelNames[channel] ?? `Channel ${channel + 1}`,
      };
    });
  }

  /** Takes over the rows of a block, in volts, and empties it. */
  take(block: Float64Array, cursor: Cursor): void {
    if (this.rows + cursor.row > this.#capacity) this.#grow(this.rows + cursor.row);
    this.#columns.forEach(({ samples, factor, name }, i) => {
      const values = block.subarray(i * BLOCK_ROWS, i * BLOCK_ROWS + cursor.row);
      if (name === undefined) samples.set(values, this.rows);
      else scaleInto(samples, values, factor, name, this.rows);
    });
    this.rows += cursor.row;
    cursor.row = 0;
  }

  #grow(rows: number): void {
    this.#capacity = Math.ceil(1.5 * rows);
    for (const column of this.#columns) {
      const larger = newSamples(this.#capacity, column.samples instanceof Float64Array ? 0 : Infinity, this.#isShared);
      larger.set(column.samples.subarray(0, this.rows));
      column.samples = larger;
    }
  }

  all(): Omit<CsvRows, 'layout'> {
    return { rows: this.rows, columns: this.#columns.map(({ samples }) => samples.subarray(0, this.rows)) };
  }
}

/** Beyond these no recorder measures: squares and ratios of such figures would overflow. */
const MAX_VOLT = 1e9;
const MIN_VOLT = 1e-150;

/** Figures to volts, behind the rows that are there already. */
function scaleInto(samples: Samples, figures: Float64Array, factor: number, name: string, rowsBefore: number): void {
  for (let n = 0; n < figures.length; n += 1) {
    const volt = (figures[n] as number) * factor;
    const size = Math.abs(volt);
    if (size > MAX_VOLT) {
      throw captureError(
        'CAPTURE_VALUE_UNREADABLE',
        `${name} holds ${(figures[n] as number).toPrecision(3)} at row ${rowsBefore + n + 1} of the figures, which is no voltage. Save the capture again.`,
      );
    }
    samples[rowsBefore + n] = size < MIN_VOLT ? 0 : volt;
  }
}

/** Where the reader stands in the bytes and in the rows. */
interface Cursor {
  at: number;
  row: number;
}

/**
 * Reads rows of plain numbers until `end`, the room in the block, or a line that is not plain; the cursor then stands at the start of a line.
 *
 * Plain: optional minus, at most nine digits on either side of the decimal sign, an exponent of one or two digits, nothing else.
 * Whole-number arithmetic up to the last division keeps each value correctly rounded.
 */
function readPlainRows(bytes: Uint8Array, view: DataView, end: number, layout: CsvLayout, block: Float64Array, cursor: Cursor): void {
  const { columnCount } = layout;
  const delimiter = layout.delimiter.charCodeAt(0);
  const decimal = layout.decimal.charCodeAt(0);
  let { at, row } = cursor;
  while (at < end && row < BLOCK_ROWS) {
    let column = 0;
    let byte: number;
    for (;;) {
      byte = bytes[at] as number;
      // Signs come as they like, and a branch on one would be guessed wrongly every other time: 1 for a minus, 0 for anything else.
      const negative = ((byte ^ MINUS) - 1) >>> 31;
      at += negative;
      byte = bytes[at] as number;
      const wholeAt = at;
      let whole = 0;
      let digit = byte ^ ZERO;
      while (digit < 10) {
        whole = (whole * 10 + digit) | 0;
        byte = bytes[++at] as number;
        digit = byte ^ ZERO;
      }
      if (at - wholeAt > 9 || (at === wholeAt && byte !== decimal)) break;
      let value = whole;
      if (byte === decimal) {
        let fraction = 0;
        const fractionAt = at + 1;
        at += 1;
        // Four digits at once: each byte of `four` is one of them where none has a high bit, nor gets one by six more.
        let four = view.getInt32(at, true) ^ FOUR_ZEROS;
        while (((four | (four + FOUR_SIXES)) & HIGH_BITS) === 0) {
          const pairs = (four * 10 + (four >>> 8)) & EVERY_OTHER;
          fraction = (Math.imul(fraction, 10_000) + (pairs & 0xff) * 100 + (pairs >>> 16)) | 0;
          at += 4;
          four = view.getInt32(at, true) ^ FOUR_ZEROS;
        }
        byte = bytes[at] as number;
        digit = byte ^ ZERO;
        while (digit < 10) {
          fraction = (fraction * 10 + digit) | 0;
          byte = bytes[++at] as number;
          digit = byte ^ ZERO;
        }
        const places = at - fractionAt;
        if (places > 9 || at - wholeAt > 16 || at - wholeAt === 1) break;
        const power = POW10[places] as number;
        const mantissa = whole * power + fraction;
        if (byte === LOWER_E || byte === UPPER_E) {
          byte = bytes[++at] as number;
          const negativeExponent = byte === MINUS;
          if (negativeExponent || byte === PLUS) byte = bytes[++at] as number;
          const exponentAt = at;
          let exponent = 0;
          digit = byte ^ ZERO;
          while (digit < 10) {
            exponent = (exponent * 10 + digit) | 0;
            byte = bytes[++at] as number;
            digit = byte ^ ZERO;
          }
          exponent = (negativeExponent ? -exponent : exponent) - places;
          if (at === exponentAt || exponent < -22 || exponent > 22) break;
          value = exponent < 0 ? mantissa / (POW10[-exponent] as number) : mantissa * (POW10[exponent] as number);
        } else value = mantissa / power;
      }
      block[column * BLOCK_ROWS + row] = value - 2 * negative * value;
      column += 1;
      if (column === columnCount || byte !== delimiter) break;
      at += 1;
    }
    if (column !== columnCount) break;
    if (byte === LF) at += 1;
    else if (byte === CR) at += bytes[at + 1] === LF ? 2 : 1;
    else break;
    row += 1;
    cursor.at = at;
    cursor.row = row;
  }
}

function lineNumberAt(bytes: Uint8Array, at: number): number {
  let line = 1;
  for (let i = 0; i < at; i += 1) if (bytes[i] === LF || (bytes[i] === CR && bytes[i + 1] !== LF)) line += 1;
  return line;
}

type SlowRow = { kind: 'row'; values: number[] } | { kind: 'skip' } | { kind: 'unreadable'; cells: string[] };

/** A line with quotes, spaces, long numbers, a comment, trailing separators or a fault. */
function readRowSlowly(text: string, layout: CsvLayout): SlowRow {
  if (/^[\s,;]*$|^\s*(#|%|\/\/)/.test(text)) return { kind: 'skip' };
  const cells = splitCells(text, layout.delimiter).map((cell) => cell.trim());
  while (cells.length > layout.columnCount && cells.at(-1) === '') cells.pop();
  const values = cells.map((cell) => parseCell(cell, layout.decimal));
  const readable = cells.length === layout.columnCount && values.every((value) => value !== null && Number.isFinite(value));
  return readable ? { kind: 'row', values: values as number[] } : { kind: 'unreadable', cells };
}

/** How many rows so many bytes seem to hold, as the first of them are. */
function estimateRows(bytes: Uint8Array, dataAt: number, length: number): number {
  let lines = 0;
  const end = Math.min(bytes.length, dataAt + 65536);
  for (let at = dataAt; at < end; at += 1) if (bytes[at] === LF || (bytes[at] === CR && bytes[at + 1] !== LF)) lines += 1;
  return Math.ceil((Math.max(0, length) / Math.max(1, end - dataAt)) * (lines + 1) * 1.05) + 16;
}

function endOfLine(bytes: Uint8Array, from: number): number {
  let at = from;
  while (at < bytes.length && bytes[at] !== LF && bytes[at] !== CR) at += 1;
  return at;
}

function textOf(bytes: Uint8Array, from: number, to: number): string {
  return String.fromCharCode(...bytes.subarray(from, to));
}

/** Says which line and which channel of it cannot be read, and what to do. */
function rowError(cells: string[], line: number, layout: CsvLayout, rows: number): Error {
  const nameOf = (column: number): string => {
    if (layout.firstColumn === 'channel') return layout.channelNames[column] ?? `column ${column + 1}`;
    return column === 0 ? 'the time column' : (layout.channelNames[column - 1] ?? `column ${column + 1}`);
  };
  const missing = Array.from({ length: layout.columnCount }, (_, i) => i).find((i) => (cells[i] ?? '').trim() === '');
  if (missing !== undefined) {
    return captureError(
      'CAPTURE_VALUE_MISSING',
      `Line ${line}: ${nameOf(missing)} has no value; ${rows} rows before it were complete. Save the capture again with all its channels, or leave that channel out.`,
    );
  }
  if (cells.length > layout.columnCount) {
    return captureError(
      'CAPTURE_VALUE_UNREADABLE',
      `Line ${line} has ${cells.length} values where the rows before have ${layout.columnCount}. Save the capture again.`,
    );
  }
  const strange = cells.findIndex((cell) => !Number.isFinite(parseCell(cell, layout.decimal) ?? NaN));
  const column = Math.max(0, strange);
  return captureError(
    'CAPTURE_VALUE_UNREADABLE',
    `Line ${line}: “${(cells[column] ?? '').trim().slice(0, 40)}” in ${nameOf(column)} is not a number. Save the capture again.`,
  );
}

/** Slower and faster recorders do not look at sound. */
const MIN_RATE_HZ = 1e-3;
const MAX_RATE_HZ = 1e12;

/** Sample rate and start, from the first and the last figure of the time column where there is one. @throws {CoreError} `CAPTURE_NO_TIME` */
export function timeBaseOf(parts: readonly CsvRows[]): Pick<Capture, 'sampleRateHz' | 'startSecond'> {
  const [{ layout }] = parts as [CsvRows];
  if (layout.firstColumn === 'channel') return { sampleRateHz: 1 / (layout.intervalSecond ?? 1), startSecond: layout.startSecond };
  const times = parts.map(({ columns }) => columns[0]!).filter(({ length }) => length > 0);
  const [first, last] = [times[0]?.[0] ?? 0, times.at(-1)?.at(-1) ?? 0];
  const interval = (last - first) / (times.reduce((sum, { length }) => sum + length, 0) - 1);
  const sampleRateHz = 1 / (interval * layout.timeFactor);
  if (!(sampleRateHz > MIN_RATE_HZ && sampleRateHz < MAX_RATE_HZ)) {
    throw captureError(
      'CAPTURE_NO_TIME',
      `The samples would lie ${interval.toPrecision(3)} apart, which no recorder does. Save the capture with its time in seconds.`,
    );
  }
  return { sampleRateHz, startSecond: layout.startSecond + first * layout.timeFactor };
}

/**
 * Looks whether a time column, whose figures may be rounded, runs evenly.
 *
 * It is judged against the straight line from first to last time: rounded times scatter around it, a gap departs from it.
 */
function checkTimes(pieces: readonly Samples[]): void {
  const times = pieces.filter(({ length }) => length > 0);
  const count = times.reduce((sum, { length }) => sum + length, 0);
  const [first, last] = [times[0]?.[0] ?? 0, times.at(-1)?.at(-1) ?? 0];
  const steps: Steps = { before: first, smallest: Infinity, backwardsAt: -1 };
  eachStretch(times, (piece, from, to, row) => {
    const { before } = steps;
    lookAtSteps(piece, from, to, steps);
    if (steps.backwardsAt < 0) return;
    const [time, earlier] = [piece[steps.backwardsAt]!, steps.backwardsAt === from ? before : piece[steps.backwardsAt - 1]!];
    throw captureError(
      'CAPTURE_TIME_BACKWARDS',
      `Time runs backwards at row ${row + steps.backwardsAt + 1} of the figures (${time} after ${earlier}). The file may hold two captures in a row: save one of them.`,
    );
  });
  if (!(last > first))
    throw captureError('CAPTURE_NO_TIME', 'The time column does not move. Save the capture with more digits in the time.');
  const interval = (last - first) / (count - 1);
  const tolerance = Math.max(1.5 * interval, 1.01 * steps.smallest);
  eachStretch(times, (piece, from, to, row) => {
    const at = firstOff(piece, from, to, first + row * interval, interval, tolerance);
    if (at < 0) return;
    throw captureError(
      'CAPTURE_TIME_UNEVEN',
      `The samples are not evenly spaced: time jumps near row ${row + at + 1} of the figures. Save the capture in one piece, without gaps.`,
    );
  });
}

/** Piece by piece, so many figures at a time, for the same reason as in {@link STRETCH_BYTES}. `row` counts those of the pieces before. */
function eachStretch(pieces: readonly Samples[], look: (piece: Samples, from: number, to: number, row: number) => void): void {
  let row = 0;
  for (const piece of pieces) {
    for (let from = 0; from < piece.length; from += BLOCK_ROWS) look(piece, from, Math.min(piece.length, from + BLOCK_ROWS), row);
    row += piece.length;
  }
}

interface Steps {
  before: number;
  smallest: number;
  /** where time first runs backwards, or −1 */
  backwardsAt: number;
}

function lookAtSteps(times: Samples, from: number, to: number, steps: Steps): void {
  let { before, smallest } = steps;
  for (let i = from; i < to; i += 1) {
    const time = times[i] as number;
    const step = time - before;
    if (step < 0) {
      steps.backwardsAt = i;
      return;
    }
    if (step > 0 && step < smallest) smallest = step;
    before = time;
  }
  steps.before = before;
  steps.smallest = smallest;
}

/** The first time that lies off a straight line by more than so much, or −1. @param base - of the line, at the first of all these times */
function firstOff(times: Samples, from: number, to: number, base: number, interval: number, tolerance: number): number {
  for (let i = from; i < to; i += 1) if (!(Math.abs((times[i] as number) - base - i * interval) <= tolerance)) return i;
  return -1;
}
