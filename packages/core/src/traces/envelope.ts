import type { Samples } from '../numerics/samples.ts';
/** Lowest and highest value of every block of samples, in levels that each hold sixteen blocks of the level before. */
export interface EnvelopePyramid {
  levels: { blockLength: number; lowest: Float32Array; highest: Float32Array }[];
}

const FIRST_BLOCK = 256;
const FACTOR = 16;

/** Builds the pyramid that lets a view of any width be drawn from a few thousand values. */
export function buildEnvelope(samples: Samples): EnvelopePyramid {
  const levels: EnvelopePyramid['levels'] = [];
  let blocks = Math.ceil(samples.length / FIRST_BLOCK);
  let lowest = new Float32Array(blocks);
  let highest = new Float32Array(blocks);
  for (let block = 0; block < blocks; block += 1) {
    const range = scan(samples, block * FIRST_BLOCK, Math.min(samples.length, (block + 1) * FIRST_BLOCK));
    lowest[block] = range.lowest;
    highest[block] = range.highest;
  }
  levels.push({ blockLength: FIRST_BLOCK, lowest, highest });
  for (let blockLength = FIRST_BLOCK * FACTOR; blocks > 1; blockLength *= FACTOR) {
    const below = { lowest, highest };
    blocks = Math.ceil(blocks / FACTOR);
    lowest = new Float32Array(blocks);
    highest = new Float32Array(blocks);
    for (let block = 0; block < blocks; block += 1) {
      const range = scanBlocks(below, block * FACTOR, Math.min(below.lowest.length, (block + 1) * FACTOR));
      lowest[block] = range.lowest;
      highest[block] = range.highest;
    }
    levels.push({ blockLength, lowest, highest });
  }
  return { levels };
}

/**
 * Lowest and highest value for each column of a view.
 *
 * @param from - first sample shown, @param to - one past the last; both may be fractions
 * @param columns - how many columns the view has
 * @returns two values a column: lowest, highest; NaN where the view reaches beyond the record
 */
export function envelopeColumns(samples: Samples, pyramid: EnvelopePyramid, from: number, to: number, columns: number): Float32Array {
  const out = new Float32Array(columns * 2);
  const perColumn = (to - from) / columns;
  for (let column = 0; column < columns; column += 1) {
    const start = Math.max(0, Math.floor(from + column * perColumn));
    const end = Math.min(samples.length, Math.max(start + 1, Math.ceil(from + (column + 1) * perColumn)));
    const range = end <= start ? { lowest: NaN, highest: NaN } : rangeOf(samples, pyramid, start, end);
    out[2 * column] = range.lowest;
    out[2 * column + 1] = range.highest;
  }
  return out;
}

/** Whole blocks of the coarsest fitting level, their ragged ends from the finer ones. */
function rangeOf(samples: Samples, { levels }: EnvelopePyramid, start: number, end: number): { lowest: number; highest: number } {
  const level = levels.findLast(({ blockLength }) => end - start >= 2 * blockLength);
  if (level === undefined) return scan(samples, start, end);
  const firstBlock = Math.ceil(start / level.blockLength);
  const lastBlock = Math.floor(end / level.blockLength);
  const parts = [scanBlocks(level, firstBlock, lastBlock)];
  const below = { levels: levels.slice(0, levels.indexOf(level)) };
  if (start < firstBlock * level.blockLength) parts.push(rangeOf(samples, below, start, firstBlock * level.blockLength));
  if (end > lastBlock * level.blockLength) parts.push(rangeOf(samples, below, lastBlock * level.blockLength, end));
  return { lowest: Math.min(...parts.map((p) => p.lowest)), highest: Math.max(...parts.map((p) => p.highest)) };
}

function scan(samples: Samples, start: number, end: number): { lowest: number; highest: number } {
  let lowest = Infinity;
  let highest = -Infinity;
  for (let n = start; n < end; n += 1) {
    const x = samples[n] as number;
    if (x < lowest) lowest = x;
    if (x > highest) highest = x;
  }
  return { lowest, highest };
}

function scanBlocks(
  level: { lowest: Float32Array; highest: Float32Array },
  start: number,
  end: number,
): { lowest: number; highest: number } {
  let lowest = Infinity;
  let highest = -Infinity;
  for (let block = start; block < end; block += 1) {
    if ((level.lowest[block] as number) < lowest) lowest = level.lowest[block] as number;
    if ((level.highest[block] as number) > highest) highest = level.highest[block] as number;
  }
  return { lowest, highest };
}
