import type { Fault } from '../coreError.ts';
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
  { head: 'most sensitive V', unit: 'V', kinds: ['amplifier'], field: 'inputMinVolt' },
  { head: 'least sensitive V', unit: 'V', kinds: ['amplifier'], field: 'inputMaxVolt' },
  { head: 'fuses A', unit: 'A', kinds: ['amplifier'], field: 'fuseAmpere' },
  { head: 'coils', unit: 'step', kinds: ['driver'], field: 'coils' },
  { head: 'each coil ohm', unit: 'ohm', kinds: ['driver'], field: 'coilOhm' },
  { head: 'rated W', unit: 'W', kinds: ['driver'], field: 'ratedPowerWatt' },
  { head: 'sensitivity dB', unit: 'dB', kinds: ['driver'], field: 'sensitivityDb' },
  { head: 'from Hz', unit: 'Hz', kinds: ['driver'], field: 'usableFromHz' },
  { head: 'to Hz', unit: 'Hz', kinds: ['driver'], field: 'usableToHz' },
];
const HEADS = ['kind', 'name', 'ratings', 'plays', ...COLUMNS.map(({ head }) => head)];
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
    kind === 'driver' ? (body.role ?? '') : '',
    ...COLUMNS.map(({ kinds, field }) => {
      const value: unknown = kinds.includes(kind) ? (body as unknown as Record<string, unknown>)[field] : undefined;
      return typeof value === 'number' ? value : '';
    }),
  ]),
];

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
  }
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
