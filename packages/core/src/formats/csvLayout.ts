import { captureError } from '../coreError.ts';

/** How a CSV capture is laid out, found from its head. */
export interface CsvLayout {
  /** byte offset of the first row of figures */
  dataAt: number;
  delimiter: string;
  decimal: '.' | ',';
  columnCount: number;
  /** time in the first column, a count of samples in the first column, or channels only */
  firstColumn: 'time' | 'index' | 'channel';
  /** factor from the time column (or the index times the interval) to seconds */
  timeFactor: number;
  intervalSecond?: number;
  startSecond: number;
  channelNames: string[];
  /** factor to volts for each channel */
  channelFactors: number[];
}

/** A line of the head; most of them are never looked into. */
class Line {
  readonly at: number;
  readonly #bytes: Uint8Array;

  constructor(bytes: Uint8Array, at: number, end: number) {
    this.at = at;
    this.#bytes = bytes.subarray(at, end);
  }

  get text(): string {
    return decodeUtf8(this.#bytes);
  }
}

const HEAD_BYTES = 1 << 18;
/** No row of a capture is longer: whatever is, is another kind of file. */
export const MAX_LINE_BYTES = 1 << 14;
/** More channels than any recorder has. */
const MAX_COLUMNS = 64;
/** Longer cells hold neither a figure nor a unit; they are not searched for one. */
const MAX_CELL = 120;
const DELIMITERS = ['\t', ';', ',', ' '];
const UNIT_FACTORS: ReadonlyMap<string, number> = new Map(
  Object.entries({
    s: 1,
    sec: 1,
    second: 1,
    seconds: 1,
    sekunde: 1,
    ms: 1e-3,
    us: 1e-6,
    µs: 1e-6,
    μs: 1e-6,
    ns: 1e-9,
    v: 1,
    volt: 1,
    volts: 1,
    mv: 1e-3,
    uv: 1e-6,
    µv: 1e-6,
    μv: 1e-6,
    kv: 1e3,
    a: 1,
    ampere: 1,
    ma: 1e-3,
    u: 1,
  }),
);
const COUNT_WORDS = /^(sequence|samples?|points?|counts?|index|#|no\.?|nr\.?)$/i;
const TIME_WORDS = /^(time|zeit|temps|tiempo|tempo|tijd|t|x|x-axis|seconds?)\b/i;
const INTERVAL_WORDS =
  /^(sample|sampling)[ _-]?(interval|period|time)|^(x[ _-]?)?incr(ement)?$|^interval$|^delta[ _-]?t$|^dt$|^period$|^horizontal interval/i;
const RATE_WORDS = /^(sample|sampling)[ _-]?(rate|freq(uency)?)|^fs$/i;
const START_WORDS = /^start([ _-]?time)?$|^x[ _-]?(origin|zero)$/i;

/**
 * Finds delimiter, decimal sign, header, units and time base of a capture written by a bench scope or a sound card.
 *
 * @throws {CoreError} `CAPTURE_NO_DATA` where no rows of figures are in it, `CAPTURE_NO_TIME` where the time base is missing
 */
export function findCsvLayout(bytes: Uint8Array): CsvLayout {
  const lines = headLines(bytes);
  const found = findFirstDataLine(lines);
  if (found === null) {
    throw captureError(
      'CAPTURE_NO_DATA',
      'No rows of figures were found in this file. A capture has a time column and one column a channel.',
    );
  }
  const { line, index, delimiter, decimal, columnCount } = found;
  if (columnCount > MAX_COLUMNS) {
    throw captureError(
      'CAPTURE_NO_DATA',
      `This file has ${columnCount} columns; a capture has a time column and up to ${MAX_COLUMNS - 1} channels. Save the channels that matter.`,
    );
  }
  const cellsOf = (text: string): string[] =>
    splitCells(text.replace(/^[#%/]+\s*/, ''), delimiter).map((cell) => cell.trim().replace(/^"|"$/g, '').trim());
  const preamble = lines
    .slice(0, index)
    .filter(({ text }) => text.trim() !== '')
    .map(({ text }) => cellsOf(text));

  const unitsAt = preamble.length - 1;
  const hasUnitsRow = unitsAt >= 0 && isUnitsRow(preamble[unitsAt] ?? [], columnCount);
  const namesRow = preamble[hasUnitsRow ? unitsAt - 1 : unitsAt];
  const names =
    namesRow !== undefined &&
    namesRow.length >= columnCount &&
    namesRow.slice(0, columnCount).some((cell) => parseCell(cell, decimal) === null)
      ? namesRow
      : null;
  const unitsRow = hasUnitsRow ? preamble[unitsAt] : undefined;
  const meta = metadataOf(preamble, names, hasUnitsRow ? (preamble[unitsAt] ?? []) : [], decimal);

  const columns = Array.from({ length: columnCount }, (_, column) => {
    const header = splitHeader(names?.[column] ?? '');
    const unit = (unitsRow?.[column]?.replace(/[()[\]]/g, '') ?? header.unit).trim();
    return { name: header.name, unit };
  });
  const first = columns[0] ?? { name: '', unit: '' };
  const firstColumn = kindOfFirstColumn(
    first,
    columnCount,
    names !== null,
    meta.intervalSecond,
    lines.slice(index, index + 200),
    delimiter,
    decimal,
  );
  if (firstColumn !== 'time' && meta.intervalSecond === undefined) {
    throw captureError(
      'CAPTURE_NO_TIME',
      'The file does not say how far apart the samples are: it has neither a time column nor a sample interval. Export it with the time column.',
    );
  }
  const channels = firstColumn === 'channel' ? columns : columns.slice(1);
  if (channels.length === 0) throw captureError('CAPTURE_NO_DATA', 'The file has a time column but no channel beside it.');
  return {
    dataAt: line.at,
    delimiter,
    decimal,
    columnCount,
    firstColumn,
    timeFactor: firstColumn === 'time' ? factorOf(first.unit) : (meta.intervalSecond ?? 1),
    ...(meta.intervalSecond === undefined ? {} : { intervalSecond: meta.intervalSecond }),
    startSecond: meta.startSecond ?? 0,
    channelNames: uniqueNames(channels.map(({ name }, i) => (name === '' ? `Channel ${i + 1}` : name))),
    channelFactors: channels.map(({ unit }) => factorOf(unit)),
  };
}

/** A cell as a number, or null. Quotes around it do not matter. */
export function parseCell(cell: string, decimal: '.' | ','): number | null {
  if (cell.length > MAX_CELL) return null;
  const bare = cell.trim().replace(/^"(.*)"$/, '$1');
  const text = decimal === ',' ? bare.replace(',', '.') : bare;
  if (!/^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i.test(text)) return null;
  return Number(text);
}

export function splitCells(text: string, delimiter: string): string[] {
  return delimiter === ' ' ? text.trim().split(/\s+/) : text.split(delimiter);
}

function headLines(bytes: Uint8Array): Line[] {
  const lines: Line[] = [];
  const end = Math.min(bytes.length, HEAD_BYTES);
  let at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  while (at < end) {
    let stop = at;
    while (stop < bytes.length && bytes[stop] !== 0x0a && bytes[stop] !== 0x0d) stop += 1;
    if (stop - at > MAX_LINE_BYTES) throw lineTooLong(lines.length + 1);
    lines.push(new Line(bytes, at, stop));
    at = stop + (bytes[stop] === 0x0d && bytes[stop + 1] === 0x0a ? 2 : 1);
  }
  return lines;
}

/** @param line - from 1 */
export const lineTooLong = (line: number): Error =>
  captureError(
    'CAPTURE_NOT_TEXT',
    `Line ${line} has more than ${MAX_LINE_BYTES} characters: a capture has a row for each sample, one below the other. Save it as CSV or WAV.`,
  );

/** Enough of UTF-8 for a header: two-byte signs such as µ; other bytes are taken as Latin-1. */
function decodeUtf8(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 1) {
    const byte = bytes[i] ?? 0;
    const next = bytes[i + 1] ?? 0;
    if (byte >= 0xc2 && byte <= 0xdf && (next & 0xc0) === 0x80) {
      text += String.fromCharCode(((byte & 0x1f) << 6) | (next & 0x3f));
      i += 1;
    } else text += String.fromCharCode(byte);
  }
  return text;
}

interface DataStart {
  line: Line;
  index: number;
  delimiter: string;
  decimal: '.' | ',';
  columnCount: number;
}

/** The first line that is all figures and is followed by lines of the same shape. */
function findFirstDataLine(lines: Line[]): DataStart | null {
  for (const [index, line] of lines.entries()) {
    if (line.text.trim() === '' || isComment(line.text)) continue;
    const shape = shapeOf(line.text);
    if (shape === null) continue;
    const following = lines
      .slice(index + 1, index + 9)
      .filter(({ text }) => text.trim() !== '' && !isComment(text))
      .slice(0, 2);
    const alike = following.every(({ text }) => {
      const next = shapeOf(text, shape.delimiter);
      return next !== null && next.columnCount === shape.columnCount;
    });
    // The last lines of the head may be a file's only figures; a broken second row is for the reader to name.
    if (alike || (following.length > 0 && index > 0 && shape.columnCount > 1 && shapeOf(following[0]?.text ?? '') === null)) {
      const decimalShapes = [line, ...following].map(({ text }) => shapeOf(text, shape.delimiter)?.decimal);
      return { line, index, ...shape, decimal: decimalShapes.includes(',') ? ',' : '.' };
    }
  }
  return null;
}

function shapeOf(text: string, only?: string): { delimiter: string; decimal: '.' | ','; columnCount: number } | null {
  let best: { delimiter: string; decimal: '.' | ','; columnCount: number } | null = null;
  for (const delimiter of only === undefined ? DELIMITERS : [only]) {
    const cells = trimTrailing(splitCells(text, delimiter));
    if (cells.length === 0) continue;
    const decimal = delimiter !== ',' && cells.some((cell) => cell.includes(',')) ? ',' : '.';
    if (!cells.every((cell) => parseCell(cell, decimal) !== null)) continue;
    if (best === null || cells.length > best.columnCount) best = { delimiter, decimal, columnCount: cells.length };
  }
  return best;
}

function trimTrailing(cells: string[]): string[] {
  let end = cells.length;
  while (end > 0 && cells[end - 1]?.trim() === '') end -= 1;
  return cells.slice(0, end);
}

const isComment = (text: string): boolean => /^\s*(#|%|\/\/)/.test(text);

function isUnitsRow(cells: string[], columnCount: number): boolean {
  return (
    cells.length >= columnCount &&
    cells.slice(0, columnCount).every((cell) => {
      const unit = cell
        .replace(/[()[\]]/g, '')
        .trim()
        .toLowerCase();
      return UNIT_FACTORS.has(unit) || COUNT_WORDS.test(unit);
    })
  );
}

/** "CH1 (V)", "CH1 [mV]", "Time/ms" and "Time in ms" split into name and unit; a name such as "V(out)" stays whole. */
function splitHeader(cell: string): { name: string; unit: string } {
  if (cell.length > MAX_CELL) return { name: `${cell.slice(0, MAX_CELL)}…`, unit: '' };
  const match = /^(.*?)\s*(?:[([]\s*([^()[\]]+?)\s*[)\]]|(?:\s+in\s+|\/)(\S+))$/.exec(cell);
  const unit = match?.[2] ?? match?.[3] ?? '';
  if (match === null || !UNIT_FACTORS.has(unit.toLowerCase()) || match[1] === '') return { name: cell, unit: '' };
  return { name: match[1] ?? cell, unit };
}

function factorOf(unit: string): number {
  return UNIT_FACTORS.get(unit.toLowerCase()) ?? 1;
}

/** Sample interval and start from "key, value" lines of the preamble, or from columns such as "Start,Increment" beside the header. */
function metadataOf(
  preamble: string[][],
  names: string[] | null,
  unitsRow: string[],
  decimal: '.' | ',',
): { intervalSecond?: number; startSecond?: number } {
  const pairs = preamble.map((cells): [string, string, string] => {
    const [key = '', value = '', unit = ''] = cells.length === 1 ? (cells[0] ?? '').split(/[:=,;\t]/) : cells;
    return [key.replace(/[:=]\s*$/, '').trim(), value.trim(), unit.trim()];
  });
  names?.forEach((name, column) => pairs.push([name, unitsRow[column] ?? '', '']));
  const meta: { intervalSecond?: number; startSecond?: number } = {};
  for (const [rawKey, rawValue, unitCell] of pairs) {
    if (rawValue.length > MAX_CELL) continue;
    const key = splitHeader(rawKey);
    const match = /^([+-]?[\d.,]+(?:e[+-]?\d+)?)\s*(\S*)$/i.exec(rawValue);
    const figure = match?.[1] ?? '';
    const value = parseCell(figure, figure.includes(',') && (decimal === ',' || !figure.includes('.')) ? ',' : '.');
    if (value === null) continue;
    const unit = [match?.[2] ?? '', key.unit, unitCell].find((u) => u !== '') ?? '';
    // An interval that has no rate, or a rate that has no interval, is none.
    if (!Number.isFinite(1 / value)) continue;
    if (INTERVAL_WORDS.test(key.name) && value > 0) meta.intervalSecond = value * factorOf(unit);
    if (RATE_WORDS.test(key.name) && value > 0) meta.intervalSecond = 1 / (value * rateFactor(unit));
    if (START_WORDS.test(key.name)) meta.startSecond = value * factorOf(unit);
  }
  return meta;
}

function rateFactor(unit: string): number {
  if (/^k/i.test(unit)) return 1e3;
  if (/^m/i.test(unit)) return 1e6;
  return /^g/i.test(unit) ? 1e9 : 1;
}

function kindOfFirstColumn(
  first: { name: string; unit: string },
  columnCount: number,
  hasNames: boolean,
  intervalSecond: number | undefined,
  sampleLines: Line[],
  delimiter: string,
  decimal: '.' | ',',
): CsvLayout['firstColumn'] {
  const values = sampleLines
    .map(({ text }) => parseCell(splitCells(text, delimiter)[0] ?? '', decimal))
    .filter((value): value is number => value !== null);
  const counts = values.length > 1 && values.every((value, i) => i === 0 || Math.abs(value - (values[i - 1] ?? 0) - 1) < 1e-9);
  if (COUNT_WORDS.test(first.unit) || COUNT_WORDS.test(first.name)) return 'index';
  if (columnCount > 1 && counts && intervalSecond !== undefined && intervalSecond !== 1) return 'index';
  if (TIME_WORDS.test(first.name) || ['s', 'ms', 'us', 'µs', 'ns'].includes(first.unit.toLowerCase())) return 'time';
  if (columnCount === 1) return 'channel';
  const rising =
    values.length > 1 && values.every((value, i) => i === 0 || value >= (values[i - 1] ?? 0)) && (values.at(-1) ?? 0) > (values[0] ?? 0);
  if (hasNames && intervalSecond !== undefined && !rising) return 'channel';
  if (counts) return 'index';
  if (rising) return 'time';
  // Without a header, time that runs backwards is better named as such than read as a voltage.
  return intervalSecond === undefined ? 'time' : 'channel';
}

function uniqueNames(names: string[]): string[] {
  return names.map((name, i) => (names.indexOf(name) === i ? name : `${name} (${i + 1})`));
}
