// How ticks were kept before: as the sentence of what they stood for. Frozen here, so that the migration goes on meaning what
// it meant, whatever the words and keys of later versions are.

export interface FormerMark {
  step_id: string;
  basis: string;
  settings: { rules: { toneLevelDbfs: number } };
  /** the Flat lists of the tune, by step */
  flat: Record<string, { checks: string[]; values: Record<string, string> | null }> | null;
}

interface FormerFilter {
  id: string;
  place: 'source' | 'processor' | 'amplifier';
  kind: 'highpass' | 'lowpass';
  family: 'butterworth' | 'linkwitz-riley' | 'bessel';
  order: number;
  cornerHz: number;
}

interface FormerParts {
  driverId: string;
  kind: 'highpass' | 'lowpass';
  capacitanceFarad?: number;
  inductanceHenry?: number;
  isReversed?: boolean;
}

export interface FormerChain {
  source: { name: string; workingVolume: number; inputs?: string[]; controls?: string[] };
  amplifiers: { id: string; name: string }[];
  channels: {
    id: string;
    amplifierId: string;
    mode: string;
    terminals: string;
    loadOhm: number;
    wiring?: { network: string };
    filters?: FormerFilter[];
    passive?: FormerParts[];
    isReversed?: boolean;
  }[];
}

/** The key of what the ticks stand for, where they were made for what is there now; else the sentence as it was. */
export function markOfNow(mark: FormerMark, chain: FormerChain): string {
  const [kind, of = ''] = mark.step_id.split(':');
  const channel = chain.channels.find(({ id }) => id === of);
  if (kind === 'hookup' && channel !== undefined) return hookupKey(mark.basis, channel, chain);
  if (kind === 'filters' && channel !== undefined) return filtersKey(mark.basis, channel);
  if (kind === 'input') return inputKey(mark, chain);
  return kind === 'crossover' ? acceptedKey(mark.basis) : mark.basis;
}

type FormerChannel = FormerChain['channels'][number];

function hookupKey(sentence: string, { loadOhm, wiring, terminals, mode, amplifierId }: FormerChannel, chain: FormerChain): string {
  const wired = wiring === undefined ? '' : ` (${wiring.network})`;
  const amplifier = chain.amplifiers.find(({ id }) => id === amplifierId);
  if (sentence !== `${quantity(loadOhm, 'Ω')}${wired} on ${amplifier?.name ?? ''}, ${terminals}, ${mode}`) return sentence;
  return canonical({ amplifierId, loadOhm, mode, network: wiring?.network, terminals });
}

const PLACES = { source: 'Source', processor: 'Processor', amplifier: 'Amplifier' } as const;
const KINDS = { highpass: 'High-pass', lowpass: 'Low-pass' } as const;
const FAMILIES = { butterworth: 'Butterworth', 'linkwitz-riley': 'Linkwitz-Riley', bessel: 'Bessel' } as const;

function filtersKey(sentence: string, { filters = [], passive = [], isReversed = false }: FormerChannel): string {
  const places = Object.keys(PLACES);
  const sorted = [...filters].sort((a, b) => places.indexOf(a.place) - places.indexOf(b.place));
  const words = [
    ...sorted.map(
      ({ place, kind, family, order, cornerHz }) =>
        `${PLACES[place]}: ${KINDS[kind]} ${quantity(cornerHz, 'Hz')}, ${6 * order} dB per octave${order === 1 ? '' : `, ${FAMILIES[family]}`}`,
    ),
    ...passive.map(partsWords),
    ...(isReversed ? ['reversed'] : []),
  ];
  if (sentence !== (words.length === 0 ? 'no filter' : words.join('; '))) return sentence;
  return canonical({
    filters: sorted.map(({ place, kind, family, order, cornerHz }) => ({ place, kind, family, order, cornerHz })),
    isReversed,
    passive: passive.map(({ driverId, kind, capacitanceFarad, inductanceHenry, isReversed: turned }) => ({
      driverId,
      kind,
      capacitanceFarad,
      inductanceHenry,
      isReversed: turned,
    })),
  });
}

function partsWords({ kind, capacitanceFarad, inductanceHenry, isReversed }: FormerParts): string {
  const values = [
    ...(capacitanceFarad === undefined ? [] : [quantity(capacitanceFarad, 'F')]),
    ...(inductanceHenry === undefined ? [] : [quantity(inductanceHenry, 'H')]),
  ];
  const series = kind === 'highpass' ? capacitanceFarad : inductanceHenry;
  const order = series === undefined ? 0 : values.length;
  const reversed = isReversed === true ? ', driver plus to minus' : '';
  return `${KINDS[kind]} of ${values.join(' and ')}${order === 0 ? ', which filters nothing' : `, ${6 * order} dB per octave`}${reversed}`;
}

/** The controls of a source in the order in which a condition named them, with their neutral positions. */
const CONTROLS: readonly [id: string, neutral: string][] = [
  ['bass', '0'],
  ['middle', '0'],
  ['treble', '0'],
  ['loudness', 'off'],
  ['bass-boost', 'off'],
  ['equaliser', 'off'],
  ['fader', 'centre'],
  ['balance', 'centre'],
  ['time-correction', 'off'],
  ['crossovers', 'off'],
  ['sub-level', '0'],
];

function inputKey({ basis, settings, flat }: FormerMark, { source }: FormerChain): string {
  const sourceInput = source.inputs?.[0] ?? 'stick';
  const { toneLevelDbfs } = settings.rules;
  const ticked = flat?.[`flat:${sourceInput}`];
  const controls = CONTROLS.filter(
    ([id]) => (source.controls === undefined || source.controls.includes(id)) && ticked?.checks.includes(id),
  );
  const values =
    ticked === undefined || ticked.checks.length === 0
      ? undefined
      : Object.fromEntries(controls.map(([id, neutral]) => [id, ticked.values?.[id] ?? neutral]));
  const sentence = [
    `${source.name} at ${source.workingVolume}`,
    sourceInput,
    `${decibels(toneLevelDbfs)}\u00a0dBFS`,
    Object.values(values ?? {}).join(' '),
  ]
    .filter((part) => part !== '')
    .join(', ');
  if (basis !== sentence) return basis;
  return canonical({ settings: values, sourceId: 'source', sourceInput, sourceVolume: source.workingVolume, toneLevelDbfs });
}

/** "80.1 Hz, 24 dB per octave": three figures of a corner are all that such a tick ever stood for. */
function acceptedKey(sentence: string): string {
  const found = /^([\d.]+)\s(k?)Hz, (\d+) dB per octave$/.exec(sentence);
  if (found === null) return sentence;
  const [, figure, kilo, slope] = found;
  return canonical({ cornerHz: Number((Number(figure) * (kilo === 'k' ? 1000 : 1)).toPrecision(3)), order: Number(slope) / 6 });
}

const PREFIXES: Record<string, readonly [factor: number, sign: string][]> = {
  Ω: [
    [1e3, 'k'],
    [1e6, 'M'],
  ],
  Hz: [[1e3, 'k']],
  F: [
    [1e-3, 'm'],
    [1e-6, 'µ'],
    [1e-9, 'n'],
  ],
  H: [
    [1e-3, 'm'],
    [1e-6, 'µ'],
  ],
};

/** Three significant figures with a prefix, as sentences had them. */
function quantity(value: number, unit: string): string {
  const magnitude = Math.abs(Number(value.toPrecision(3)));
  const prefix = [...(PREFIXES[unit] ?? [])]
    .sort((a, b) => b[0] - a[0])
    .find(([factor]) => (factor > 1 ? magnitude >= factor : magnitude < 1 && magnitude >= factor && magnitude > 0));
  return `${significant(value / (prefix?.[0] ?? 1))}\u00a0${prefix?.[1] ?? ''}${unit}`;
}

function significant(value: number): string {
  const rounded = Number(value.toPrecision(3));
  if (Number.isInteger(rounded) && Math.abs(value - rounded) < 1e-9) return rounded.toString();
  return rounded.toFixed(Math.min(6, Math.max(0, 2 - Math.floor(Math.log10(Math.abs(rounded))))));
}

function decibels(value: number): string {
  const text = value.toFixed(1);
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', '−');
}

/** As keys were written when this migration was: fields in the order of their names, undefined ones left out. */
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value ?? null);
  const fields = Object.entries(value)
    .filter(([, field]) => field !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${fields.map(([key, field]) => `${JSON.stringify(key)}:${canonical(field)}`).join(',')}}`;
}
