import {
  type ActiveFilter,
  type AlikeGroups,
  atCorner,
  byDial,
  type Chain,
  dialOfFilter,
  dialsFor,
  FAMILY_NAMES,
  type Filter,
  FILTER_FAMILIES,
  type FilterFamily,
  type FilterPlace,
  filterWords,
  formatQuantity,
  isProofWanted,
  KIND_NAMES,
  nearestSetting,
  ordersOf,
  parseQuantity,
  PLACE_NAMES,
  plainFigure,
  settingWords,
  withFamily,
  withFilter,
  withoutFilter,
} from '@yield/core';
import { Trash2 } from 'lucide-react';
import { useState, type JSX } from 'react';

interface Props {
  chain: Chain;
  group: AlikeGroups;
  filter: ActiveFilter;
  /** as it was measured */
  proved: Filter | undefined;
  onChange: (chain: Chain) => void;
}

/** One filter of a way: where it is set, how steep, at which corner or which click. */
export function FilterRow({ chain, group, filter, proved, onChange }: Props): JSX.Element {
  const dials = dialsFor(chain, group.channel, filter.place).filter(({ kind }) => kind === filter.kind);
  const dial = dialOfFilter(chain, group.channel, filter);
  const setting = dial === undefined ? undefined : nearestSetting(dial, filter.cornerHz);
  const change = (next: (each: ActiveFilter) => ActiveFilter): void => onChange(withFilter(chain, group, filter, (each) => next(each)));
  const name = KIND_NAMES[filter.kind];
  const places: FilterPlace[] = ['source', ...(chain.processor === undefined ? [] : (['processor'] as const)), 'amplifier'];
  return (
    <li className="border-line border-t py-3">
      <div className="flex flex-wrap items-center gap-x-4">
        <h3 className="font-semibold">{name}</h3>
        {dial !== undefined && setting !== undefined && (
          <p>
            <span className="text-action text-lg font-semibold">{settingWords(dial, setting)}</span>{' '}
            <span className="text-quiet text-sm">on {dial.name}</span>
          </p>
        )}
        {proved !== undefined && (
          <p className="text-good text-sm font-medium" title={filterWords(proved)}>
            measured {formatQuantity(proved.cornerHz, 'Hz')}
            {proved.order !== filter.order && `, ${6 * proved.order} dB per octave`}
          </p>
        )}
        <label className="ml-auto flex min-h-11 cursor-pointer items-center gap-2.5 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-primary checkbox-sm"
            checked={isProofWanted(filter)}
            onChange={(event) => change((each) => ({ ...each, isProved: event.target.checked }))}
          />
          prove it
        </label>
        <button
          type="button"
          className="btn btn-ghost btn-square"
          aria-label={`Remove the ${name.toLowerCase()} at ${formatQuantity(filter.cornerHz, 'Hz')}`}
          title="Remove this filter"
          onClick={() => onChange(withoutFilter(chain, group, filter))}
        >
          <Trash2 size={18} aria-hidden />
        </button>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <CornerField
          key={filter.cornerHz}
          label={`${name} corner`}
          cornerHz={filter.cornerHz}
          onEnter={(hertz) => onChange(withFilter(chain, group, filter, (each, channel) => atCorner(chain, channel, each, hertz)))}
        />
        <Select
          label="Set on"
          value={filter.place}
          options={places.map((place) => [place, PLACE_NAMES[place]])}
          onChange={(place) =>
            change((each) => {
              const { dial: _dial, ...rest } = each;
              return { ...rest, place: place as FilterPlace };
            })
          }
        />
        {dials.length > 0 && (
          <Select
            label="By"
            value={filter.dial?.id ?? ''}
            options={[['', 'a figure'], ...dials.map(({ id, name: dialName }): [string, string] => [id, `dial ${dialName}`])]}
            onChange={(id) =>
              onChange(withFilter(chain, group, filter, (each, channel) => byDial(chain, channel, each, id === '' ? undefined : id)))
            }
          />
        )}
        <Select
          label="Slope, per octave"
          value={String(filter.order)}
          options={ordersOf(filter.family).map((order) => [String(order), `${6 * order} dB`])}
          onChange={(order) => change((each) => ({ ...each, order: Number(order) }))}
        />
        <Select
          label="Alignment"
          value={filter.family}
          options={FILTER_FAMILIES.map((family) => [family, FAMILY_NAMES[family]])}
          onChange={(family) => change((each) => withFamily(each, family as FilterFamily))}
        />
      </div>
    </li>
  );
}

function Select({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly [value: string, label: string][];
  onChange: (value: string) => void;
}): JSX.Element {
  return (
    <label className="min-w-0">
      <span className="label mb-1 block">{label}</span>
      <select className="select min-h-11 w-auto min-w-0 pr-8 font-medium" value={value} onChange={(event) => onChange(event.target.value)}>
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Digits, Enter: the corner, or the nearest that a dial gives. */
function CornerField({ label, cornerHz, onEnter }: { label: string; cornerHz: number; onEnter: (hertz: number) => void }): JSX.Element {
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const enter = (): void => {
    if (text === null) return;
    const parsed = parseQuantity(text, 'Hz');
    if (parsed.kind === 'empty') setText(null);
    else if (parsed.kind === 'fault') setFault(parsed.message);
    else if (parsed.value < 5 || parsed.value > 40_000) setFault('A corner must be between 5 Hz and 40 kHz.');
    else {
      setText(null);
      setFault(null);
      onEnter(parsed.value);
    }
  };
  return (
    <label className="w-30">
      <span className="label mb-1 block">{label}</span>
      <span className={`input min-h-11 w-full ${fault === null ? '' : 'input-error'}`}>
        <input
          className="min-w-0 grow text-lg font-semibold"
          inputMode="decimal"
          autoComplete="off"
          value={text ?? plainFigure(cornerHz)}
          aria-invalid={fault !== null}
          onChange={(event) => {
            setText(event.target.value);
            setFault(null);
          }}
          onBlur={enter}
          onKeyDown={(event) => {
            if (event.key === 'Enter') enter();
            if (event.key === 'Escape') event.currentTarget.blur();
          }}
        />
        <span className="text-quiet">Hz</span>
      </span>
      {fault !== null && (
        <span role="alert" className="text-stop mt-1 block text-sm leading-snug">
          {fault}
        </span>
      )}
    </label>
  );
}
