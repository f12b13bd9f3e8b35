import type { Fault } from '../coreError.ts';
import { readDialTable } from '../crossovers/dial.ts';
import { FILTER_FAMILIES, ordersOf } from '../crossovers/filters.ts';
import type { Amplifier, Driver, DriverRole, Processor, Source } from '../job/chain.ts';
import type { HookupMode } from '../loads/hookup.ts';
import { parseQuantity } from '../units/parseQuantity.ts';
import type { Unit } from '../units/units.ts';
import { GEAR_NAMES, type Gear, type GearKind } from './gear.ts';

interface Column {
  /** with its unit, as the header says it */
  head: string;
  unit?: Unit;
  kinds: readonly GearKind[];
  field: string;
}

/** What goes out and comes in: a row each, figures alone. Inputs, outputs and dials are the chain's to say. */
const COLUMNS: readonly Column[] = [
  { head: 'volume steps', unit: 'step', kinds: ['source'], field: 'volumeSteps' },
  { head: 'preamp as claimed V', unit: 'V', kinds: ['source'], field: 'preampClaimVolt' },
  { head: 'highest clean V', unit: 'V', kinds: ['source'], field: 'ceilingVolt' },
  { head: 'output V', unit: 'V', kinds: ['processor'], field: 'outputVolt' },
  { head: 'lowest stereo ohm', unit: 'ohm', kinds: ['amplifier'], field: 'minimumStereoOhm' },
  { head: 'lowest bridged ohm', unit: 'ohm', kinds: ['amplifier'], field: 'minimumBridgedOhm' },
  { head: 'lowest mono ohm', unit: 'ohm', kinds: ['amplifier'], field: 'minimumMonoOhm' },
  { head: 'channels', unit: 'step', kinds: ['amplifier'], field: 'channelCount' },
  { head: 'most sensitive V', unit: 'V', kinds: ['amplifier'], field: 'inputMinVolt' },
  { head: 'least sensitive V', unit: 'V', kinds: ['amplifier'], field: 'inputMaxVolt' },
  { head: 'fuses A', unit: 'A', kinds: ['amplifier'], field: 'fuseAmpere' },
  { head: 'coils', unit: 'step', kinds: ['driver'], field: 'coils' },
  { head: 'each coil ohm', unit: 'ohm', kinds: ['driver'], field: 'coilOhm' },
  { head: 'rated W', unit: 'W', kinds: ['driver'], field: 'ratedPowerWatt' },
  { head: 'sensitivity dB', unit: 'dB', kinds: ['driver'], field: 'sensitivityDb' },
  { head: 'from Hz', unit: 'Hz', kinds: ['driver'], field: 'usableFromHz' },
  { head: 'to Hz', unit: 'Hz', kinds: ['driver'], field: 'usableToHz' },
  { head: 'accuracy %', unit: '%', kinds: ['meter'], field: 'percent' },
  { head: 'plus digits', unit: 'step', kinds: ['meter'], field: 'digits' },
  { head: 'highest count', unit: 'step', kinds: ['meter'], field: 'counts' },
  { head: 'smallest step V', unit: 'V', kinds: ['meter'], field: 'finestVolt' },
  { head: 'good to Hz', unit: 'Hz', kinds: ['meter'], field: 'highestHz' },
  { head: 'good from Hz', unit: 'Hz', kinds: ['meter'], field: 'lowestHz' },
  { head: 'accuracy on ohms %', unit: '%', kinds: ['meter'], field: 'ohmPercent' },
  { head: 'plus ohm', unit: 'ohm', kinds: ['meter'], field: 'ohmDigitsOhm' },
  { head: 'leads ohm', unit: 'ohm', kinds: ['meter'], field: 'leadOhm' },
  { head: 'bands', unit: 'step', kinds: ['equaliser'], field: 'bands' },
  { head: 'lowest Q', unit: 'step', kinds: ['equaliser'], field: 'minQ' },
  { head: 'highest Q', unit: 'step', kinds: ['equaliser'], field: 'maxQ' },
  { head: 'step Hz', unit: 'Hz', kinds: ['equaliser'], field: 'frequencyStepHz' },
  { head: 'step of Q', unit: 'step', kinds: ['equaliser'], field: 'qStep' },
  { head: 'Q of each', unit: 'step', kinds: ['equaliser'], field: 'q' },
  { head: 'order', unit: 'step', kinds: ['dial'], field: 'order' },
];
const HEADS = ['kind', 'name', 'ratings', 'plays', 'table', ...COLUMNS.map(({ head }) => head)];
const KINDS = Object.keys(GEAR_NAMES) as GearKind[];
const ROLES: readonly DriverRole[] = ['tweeter', 'midrange', 'woofer', 'full-range', 'subwoofer'];
const MODES: readonly HookupMode[] = ['stereo', 'bridged', 'mono'];

/** Gear as rows of cells, the first one the header; who writes them makes them safe for spreadsheets. */
export const gearRows = (gear: readonly Gear[]): (string | number)[][] => [
  HEADS,
  ...gear.map(({ kind, body }) => [
    kind,
    body.name,
    kind === 'amplifier' ? body.ratings.map(({ mode, loadOhm, powerWatt }) => `${mode} ${loadOhm} ohm ${powerWatt} W`).join('; ') : '',
    playsOf({ kind, body } as Gear),
    tableOf({ kind, body } as Gear),
    ...COLUMNS.map(({ kinds, field }) => {
      const value: unknown = kinds.includes(kind) ? figuresOf({ kind, body } as Gear)[field] : undefined;
      return typeof value === 'number' ? value : '';
    }),
  ]),
];

/** Numbers of a piece; those of an equaliser lie one deeper. */
const figuresOf = ({ kind, body }: Gear): Record<string, unknown> => ({ ...(kind === 'equaliser' ? body.equaliser : body) });

/** What a piece is for, in a word or a few. */
function playsOf({ kind, body }: Gear): string {
  if (kind === 'driver') return body.role ?? '';
  if (kind === 'meter') return body.trueRms ? 'true RMS' : 'average';
  if (kind === 'dial') return `${body.kind} ${body.family} ${body.stops} x${body.multipliers.join(' x')}`;
  return kind === 'equaliser' ? body.equaliser.kind : '';
}

/** Rows of a table in one cell: detents, a calibration, the centres of a graphic equaliser. */
function tableOf({ kind, body }: Gear): string {
  const rows =
    kind === 'dial'
      ? body.table.map(({ label, cornerHz }) => `${label} = ${cornerHz} Hz`)
      : kind === 'microphone'
        ? (body.calibration ?? []).map(({ hertz, db }) => `${hertz} Hz = ${db} dB`)
        : kind === 'equaliser' && body.equaliser.kind === 'graphic'
          ? body.equaliser.centresHz.map((hertz) => `${hertz} Hz`)
          : [];
  return rows.join('; ');
}

/**
 * Gear out of rows of cells, as `gearRows` has them; columns in any order, those that are missing are empty.
 *
 * @param rows - the header first
 * @returns what could be read, and what is wrong with which line: figures with another unit than their column's are refused
 */
export function readGearRows(rows: readonly (readonly string[])[], newId: () => string): { gear: Gear[]; faults: Fault[] } {
  const heads = (rows[0] ?? []).map((head) => head.trim().toLowerCase());
  const faults: Fault[] = [];
  const unknown = heads.filter((head) => head !== '' && HEADS.every((known) => known.toLowerCase() !== head));
  if (!heads.includes('kind') || !heads.includes('name'))
    return {
      gear: [],
      faults: [{ pointer: '/0', message: `The first line names the columns: ${HEADS.slice(0, 3).join(', ')} and so on.` }],
    };
  for (const head of unknown)
    faults.push({ pointer: '/0', message: `There is no column “${head}”. Its unit stands in its name, such as “each coil ohm”.` });
  const gear: Gear[] = [];
  rows.slice(1).forEach((cells, i) => {
    if (cells.every((cell) => cell.trim() === '')) return;
    const line = i + 2;
    const say = (message: string): void => void faults.push({ pointer: `/${i + 1}`, message: `Line ${line}: ${message}` });
    const cell = (head: string): string => {
      const at = heads.indexOf(head.toLowerCase());
      // The apostrophe that keeps a spreadsheet from working a name out.
      return at === -1 ? '' : (cells[at] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
    };
    const kind = cell('kind').toLowerCase() as GearKind;
    const before = faults.length;
    if (!KINDS.includes(kind)) say(`“${cell('kind').slice(0, 40)}” is no kind of gear: ${KINDS.join(', ')}.`);
    if (cell('name') === '') say('it has no name.');
    const figures: Record<string, number> = {};
    for (const { head, unit, kinds, field } of COLUMNS) {
      const text = cell(head);
      if (text === '' || !kinds.includes(kind)) continue;
      const parsed = parseQuantity(text, unit ?? 'step');
      if (parsed.kind === 'ok') figures[field] = parsed.value;
      else if (parsed.kind === 'fault') say(`${head}: ${parsed.message}`);
    }
    const made = faults.length > before ? undefined : gearOf(kind, cell, figures, newId);
    if (typeof made === 'string') say(made);
    else if (made !== undefined) gear.push(made);
  });
  return { gear, faults };
}

/** @returns the gear, or what it lacks */
function gearOf(kind: GearKind, cell: (head: string) => string, figures: Record<string, number>, newId: () => string): Gear | string {
  const name = cell('name');
  switch (kind) {
    case 'source': {
      const { volumeSteps = 40 } = figures;
      const body: Source = {
        ...figures,
        name,
        volumeSteps,
        workingVolume: Math.max(1, Math.round(0.75 * volumeSteps)),
        volumeBasis: 'assumed',
      };
      return { kind, body };
    }
    case 'processor': {
      const body: Processor = {
        name,
        outputVolt: figures.outputVolt ?? 4,
        hasClipLight: false,
        inputs: [{ id: newId(), name: 'In', output: 'preamp-front' }],
        outputs: [{ id: newId(), name: 'Out 1' }],
      };
      return { kind, body };
    }
    case 'amplifier': {
      const ratings = ratingsIn(cell('ratings'));
      if (typeof ratings === 'string') return ratings;
      const body: Amplifier = { ...figures, id: newId(), name, ratings };
      return { kind, body };
    }
    case 'driver': {
      const { coils = 1, coilOhm, ratedPowerWatt, ...rest } = figures;
      if (coilOhm === undefined || ratedPowerWatt === undefined) return 'a driver has each coil’s ohms and its rated watts.';
      if (coils !== 1 && coils !== 2 && coils !== 4) return 'a driver has one, two or four coils.';
      const role = cell('plays').toLowerCase() as DriverRole;
      if (cell('plays') !== '' && !ROLES.includes(role))
        return `“${cell('plays').slice(0, 40)}” is nothing that a driver plays: ${ROLES.join(', ')}.`;
      const body: Driver = { ...rest, id: newId(), name, coils, coilOhm, ratedPowerWatt, ...(cell('plays') === '' ? {} : { role }) };
      return { kind, body };
    }
    case 'meter': {
      const { percent, digits, highestHz, ...rest } = figures;
      if (percent === undefined || digits === undefined || highestHz === undefined)
        return 'a meter has its accuracy in %, its digits, and up to which frequency they hold.';
      const word = cell('plays').toLowerCase();
      if (!['', 'true rms', 'average'].includes(word)) return `“${cell('plays').slice(0, 40)}” is no kind of meter: true RMS, average.`;
      return { kind, body: { ...rest, name, percent, digits, highestHz, trueRms: word !== 'average' } };
    }
    case 'microphone': {
      const points = pairsIn(cell('table'), 'dB');
      if (typeof points === 'string') return points;
      const calibration = points.map(([hertz, db]) => ({ hertz, db }));
      if (calibration.some(({ hertz }, k) => k > 0 && hertz <= calibration[k - 1]!.hertz)) return 'table: frequencies must rise.';
      return { kind, body: { name, ...(calibration.length === 0 ? {} : { calibration }) } };
    }
    case 'dial':
      return dialOf(name, cell, figures, newId);
    case 'equaliser': {
      const { bands, minQ, maxQ, frequencyStepHz, qStep, q } = figures;
      const centres = listIn(cell('table'));
      if (typeof centres === 'string') return centres;
      if (cell('plays').toLowerCase() === 'graphic' || centres.length > 0) {
        if (centres.length === 0) return 'a graphic equaliser has its centres in “table”: 63 Hz; 125 Hz; 250 Hz.';
        return { kind, body: { name, equaliser: { kind: 'graphic', centresHz: centres, q: q ?? USUAL_GRAPHIC_Q } } };
      }
      if (bands === undefined || bands < 1) return 'an equaliser of free bands says how many.';
      const rest = Object.entries({ minQ, maxQ, frequencyStepHz, qStep }).filter(([, value]) => value !== undefined);
      return { kind, body: { name, equaliser: { kind: 'parametric', bands, ...Object.fromEntries(rest) } } };
    }
  }
}

/** Of octave bands: each reaches the next one's half. */
const USUAL_GRAPHIC_Q = 1.4;

/** "lowpass butterworth clicks x1 x10", and the detents in "table". */
function dialOf(name: string, cell: (head: string) => string, { order = 2 }: Record<string, number>, newId: () => string): Gear | string {
  const rows = cell('table')
    .split(';')
    .map((row) => row.trim().split(/\s*=\s*/))
    .filter(([first]) => first !== '');
  const { table, faults } = readDialTable(rows.map((cells) => cells.join('\t')).join('\n'));
  if (faults.length > 0) return `table: ${faults[0]!.message}`;
  const words = cell('plays').toLowerCase().split(/\s+/);
  const family = FILTER_FAMILIES.find((each) => words.includes(each)) ?? 'butterworth';
  if (!ordersOf(family).includes(order)) return `order: a ${family} filter has order ${ordersOf(family).join(', ')}.`;
  const multipliers = words.flatMap((word) => (/^[x×]\d/.test(word) ? [Number(word.slice(1))] : [])).filter((each) => each > 0);
  return {
    kind: 'dial',
    body: {
      id: newId(),
      name,
      kind: words.includes('highpass') ? 'highpass' : 'lowpass',
      family,
      order,
      stops: words.includes('marks') ? 'marks' : 'clicks',
      table,
      multipliers: multipliers.length === 0 ? [1] : multipliers,
    },
  };
}

/** "20 Hz = -1.2 dB; 1 kHz = 0 dB". @returns pairs, or what is wrong */
function pairsIn(text: string, unit: Unit): [number, number][] | string {
  const pairs: [number, number][] = [];
  for (const row of text
    .split(';')
    .map((each) => each.trim())
    .filter((each) => each !== '')) {
    const [left, right] = row.split('=');
    const [hertz, value] = [parseQuantity(left ?? '', 'Hz'), parseQuantity(right ?? '', unit)];
    if (hertz.kind !== 'ok' || value.kind !== 'ok') return `table: “${row.slice(0, 40)}” is not like “1000 Hz = 0 ${unit}”.`;
    pairs.push([hertz.value, value.value]);
  }
  return pairs;
}

/** "63 Hz; 125 Hz". @returns figures, or what is wrong */
function listIn(text: string): number[] | string {
  const figures: number[] = [];
  for (const part of text
    .split(';')
    .map((each) => each.trim())
    .filter((each) => each !== '')) {
    const parsed = parseQuantity(part, 'Hz');
    if (parsed.kind !== 'ok') return `table: “${part.slice(0, 40)}” is no frequency.`;
    figures.push(parsed.value);
  }
  return figures;
}

/** "stereo 4 ohm 60 W; bridged 4 ohm 180 W". */
function ratingsIn(text: string): Amplifier['ratings'] | string {
  const ratings: Amplifier['ratings'] = [];
  for (const part of text.split(';').map((each) => each.trim())) {
    if (part === '') continue;
    const match = /^(\S+)\s+(.+?ohm|.+?Ω|\S+)\s+(.+)$/i.exec(part);
    const mode = match?.[1]?.toLowerCase() as HookupMode;
    const [loadOhm, powerWatt] = [parseQuantity(match?.[2] ?? '', 'ohm'), parseQuantity(match?.[3] ?? '', 'W')];
    if (match === null || !MODES.includes(mode) || loadOhm.kind !== 'ok' || powerWatt.kind !== 'ok')
      return `ratings: “${part.slice(0, 60)}” is not like “stereo 4 ohm 60 W”.`;
    ratings.push({ mode, loadOhm: loadOhm.value, powerWatt: powerWatt.value });
  }
  return ratings;
}
