import {
  type AlikeGroups,
  type Chain,
  formatQuantity,
  groupName,
  partsAsPrinted,
  passiveCornerHz,
  type PassiveFilter,
  type ProvedFilters,
  ROLE_NAMES,
  sizeDoubt,
  unknownCapacitor,
  USUAL_SIZES,
  withNewFilter,
  withParts,
  withReversed,
} from '@yield/core';
import { newId } from '../chain/chainFields.ts';
import { Plus, Ruler } from 'lucide-react';
import { useState, type JSX } from 'react';
import { Dialog } from '../ui/Dialog.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { readQuantity } from '../ui/useDraft.ts';
import { FilterRow } from './FilterRow.tsx';
import { RangeForm } from './RangeForm.tsx';

interface Props {
  chain: Chain;
  group: AlikeGroups;
  proved: ProvedFilters;
  onChange: (chain: Chain) => void;
}

/** Everything that is set for one way of the system. */
export function WayEditor({ chain, group, proved, onChange }: Props): JSX.Element {
  const [rangeOpen, setRangeOpen] = useState(false);
  const driver = group.drivers[0];
  const usable =
    driver?.usableFromHz === undefined && driver?.usableToHz === undefined
      ? 'range not entered'
      : `${driver.usableFromHz === undefined ? '' : formatQuantity(driver.usableFromHz, 'Hz')} to ${driver.usableToHz === undefined ? '' : formatQuantity(driver.usableToHz, 'Hz')}`;
  return (
    <section aria-label={groupName(group)} className="min-w-0">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
        <h2 className="text-lg">{groupName(group)}</h2>
        <p className="text-quiet">
          {group.role === undefined ? 'role not entered' : ROLE_NAMES[group.role]}, {usable}
        </p>
      </div>
      <ul className="mt-2">
        {group.filters.map((filter) => (
          <FilterRow key={filter.id} chain={chain} group={group} filter={filter} proved={proved.get(filter.id)} onChange={onChange} />
        ))}
        {(['highpass', 'lowpass'] as const).map((kind) => {
          const parts = group.passive.find((each) => each.kind === kind);
          return parts === undefined ? null : <PartsRow key={parts.id} chain={chain} group={group} parts={parts} onChange={onChange} />;
        })}
        {group.filters.length === 0 && group.passive.length === 0 && (
          <li className="text-quiet border-line border-t py-4">No filter: these drivers get everything.</li>
        )}
      </ul>
      <div className="border-line flex flex-wrap items-center gap-2 border-t pt-3">
        {(['highpass', 'lowpass'] as const).map((kind) => (
          <button key={kind} type="button" className="btn" onClick={() => onChange(withNewFilter(chain, group, kind, newId))}>
            <Plus size={18} aria-hidden /> {kind === 'highpass' ? 'High-pass' : 'Low-pass'}
          </button>
        ))}
        {driver !== undefined && group.passive.length === 0 && (
          <button
            type="button"
            className="btn"
            onClick={() =>
              onChange(
                withParts(
                  chain,
                  group,
                  group.role === 'tweeter' ? 'highpass' : 'lowpass',
                  group.role === 'tweeter' ? { capacitanceFarad: 10e-6 } : { inductanceHenry: 0.5e-3 },
                  newId,
                ),
              )
            }
          >
            <Plus size={18} aria-hidden /> {group.role === 'tweeter' ? 'Capacitor' : 'Passive parts'}
          </button>
        )}
        {driver !== undefined && (
          <button type="button" className="btn btn-ghost text-action" onClick={() => setRangeOpen(true)}>
            <Ruler size={18} aria-hidden /> Driver’s range
          </button>
        )}
        <label className="flex min-h-11 basis-full cursor-pointer items-center gap-2.5">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={group.channel.isReversed === true}
            onChange={(event) => onChange(withReversed(chain, group, event.target.checked))}
          />
          plus and minus changed over
        </label>
      </div>
      {rangeOpen && driver !== undefined && (
        <Dialog title={`Range: ${driver.name}`} onClose={() => setRangeOpen(false)} wide>
          <RangeForm
            chain={chain}
            group={group}
            driver={driver}
            onSave={(next) => {
              onChange(next);
              setRangeOpen(false);
            }}
          />
        </Dialog>
      )}
    </section>
  );
}

/** Capacitor and inductor of a way, and the corner that they really give with its driver. */
function PartsRow({
  chain,
  group,
  parts,
  onChange,
}: {
  chain: Chain;
  group: AlikeGroups;
  parts: PassiveFilter;
  onChange: (chain: Chain) => void;
}): JSX.Element {
  const cornerHz = passiveCornerHz(parts, group.impedance);
  const ohm = group.impedance.resistanceOhm;
  return (
    <li className="border-line border-t py-3">
      <div className="flex flex-wrap items-end gap-3">
        <p className="min-h-11 w-24 content-center leading-tight font-semibold">
          {parts.kind === 'highpass' ? 'Passive high-pass' : 'Passive low-pass'}
        </p>
        <label>
          <span className="label mb-1 block">Known of it</span>
          <select
            className="select min-h-11 w-44"
            value={knownOf(parts)}
            onChange={(event) => onChange(withParts(chain, group, parts.kind, asKnown(parts, event.target.value, ohm), newId))}
          >
            <option value="values">its values</option>
            <option value="printed">corner and slope printed</option>
            {parts.kind === 'highpass' && <option value="unknown">a capacitor, value unknown</option>}
          </select>
        </label>
        {parts.printed !== undefined ? (
          <PrintedFields
            printed={parts.printed}
            onEnter={(printed) => onChange(withParts(chain, group, parts.kind, printedParts(parts, printed, ohm), newId))}
          />
        ) : parts.isUnknown === true ? (
          <p className="text-quiet max-w-56 text-sm leading-snug">
            Taken for {formatQuantity(parts.capacitanceFarad ?? 0, 'F')}: no tone below the tweeter’s range all the same.
          </p>
        ) : (
          <>
            <PartField
              label={parts.kind === 'highpass' ? 'Capacitor in series' : 'Capacitor across'}
              unit="F"
              value={parts.capacitanceFarad}
              onEnter={(value) => onChange(withParts(chain, group, parts.kind, setPart(parts, 'capacitanceFarad', value), newId))}
            />
            <PartField
              label={parts.kind === 'highpass' ? 'Inductor across' : 'Inductor in series'}
              unit="H"
              value={parts.inductanceHenry}
              onEnter={(value) => onChange(withParts(chain, group, parts.kind, setPart(parts, 'inductanceHenry', value), newId))}
            />
          </>
        )}
        <p className="min-h-11 content-center">
          {cornerHz === undefined ? (
            <span className="text-stop font-medium">filters nothing</span>
          ) : (
            <>
              corner <span className="text-lg font-semibold">{formatQuantity(cornerHz, 'Hz')}</span>{' '}
              <span className="text-quiet text-sm">
                with {formatQuantity(group.impedance.resistanceOhm, 'ohm')}
                {group.impedance.inductanceHenry !== undefined && ` and ${formatQuantity(group.impedance.inductanceHenry, 'H')}`}
              </span>
            </>
          )}
        </p>
        <label className="flex min-h-11 cursor-pointer items-center gap-2.5 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-primary checkbox-sm"
            checked={parts.isReversed === true}
            onChange={(event) => {
              const { isReversed: _before, ...rest } = parts;
              onChange(withParts(chain, group, parts.kind, event.target.checked ? { ...rest, isReversed: true } : rest, newId));
            }}
          />
          plus to minus
        </label>
        <button type="button" className="btn btn-ghost ml-auto" onClick={() => onChange(withParts(chain, group, parts.kind, null, newId))}>
          Take out
        </button>
      </div>
    </li>
  );
}

type Known = 'values' | 'printed' | 'unknown';

const knownOf = ({ printed, isUnknown }: PassiveFilter): Known =>
  printed !== undefined ? 'printed' : isUnknown === true ? 'unknown' : 'values';

/** The same parts, known another way. */
function asKnown(parts: PassiveFilter, known: string, ohm: number): Partial<PassiveFilter> {
  const { printed: _printed, isUnknown: _unknown, ...rest } = parts;
  if (known === 'unknown') return { ...rest, ...unknownCapacitor(ohm), isUnknown: true };
  return known === 'printed' ? printedParts(parts, { cornerHz: 3500, order: 2 }, ohm) : rest;
}

function printedParts(parts: PassiveFilter, printed: Required<PassiveFilter>['printed'], ohm: number): Partial<PassiveFilter> {
  const { printed: _printed, isUnknown: _unknown, capacitanceFarad: _farad, inductanceHenry: _henry, ...rest } = parts;
  return { ...rest, ...partsAsPrinted(parts.kind, printed.cornerHz, printed.order, ohm), printed };
}

/** What a bought network's label says. */
function PrintedFields({
  printed,
  onEnter,
}: {
  printed: Required<PassiveFilter>['printed'];
  onEnter: (printed: Required<PassiveFilter>['printed']) => void;
}): JSX.Element {
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? String(printed.cornerHz);
  const read = readQuantity(shown, 'Hz');
  return (
    <>
      <div
        className="w-32"
        onBlur={() => {
          if (text === null || read.value === undefined) return;
          setText(null);
          onEnter({ ...printed, cornerHz: read.value });
        }}
      >
        <QuantityField label="Corner" unit="Hz" draft={{ text: shown, setText, ...read }} />
      </div>
      <label>
        <span className="label mb-1 block">Slope</span>
        <select
          className="select min-h-11 w-32"
          value={printed.order}
          onChange={(event) => onEnter({ ...printed, order: event.target.value === '1' ? 1 : 2 })}
        >
          <option value={1}>6 dB</option>
          <option value={2}>12 dB</option>
        </select>
      </label>
    </>
  );
}

type PartKey = 'capacitanceFarad' | 'inductanceHenry';

function setPart(parts: PassiveFilter, key: PartKey, value: number | undefined): Partial<PassiveFilter> {
  const { [key]: _before, ...rest } = parts;
  return value === undefined ? rest : { ...rest, [key]: value };
}

function PartField({
  label,
  unit,
  value,
  onEnter,
}: {
  label: string;
  unit: 'F' | 'H';
  value: number | undefined;
  onEnter: (value: number | undefined) => void;
}): JSX.Element {
  // In micro- and millifigures, as parts are printed.
  const shown = value === undefined ? '' : `${Number((value * (unit === 'F' ? 1e6 : 1e3)).toPrecision(4))}${unit === 'F' ? 'u' : 'm'}`;
  const [text, setText] = useState<string | null>(null);
  const read = readQuantity(text ?? shown, unit);
  const doubt = text === null || read.value === undefined ? undefined : sizeDoubt(read.value, USUAL_SIZES[unit]);
  const enter = (next: number | undefined): void => {
    setText(null);
    onEnter(next);
  };
  return (
    <div
      className="w-40"
      onBlur={(event) => {
        if (text === null || read.fault !== undefined || event.currentTarget.contains(event.relatedTarget)) return;
        // "6.8" is no capacitor of 6.8 F: it waits for an answer.
        if (doubt === undefined) enter(read.value);
      }}
    >
      <QuantityField label={label} unit={unit} draft={{ text: text ?? shown, setText, ...read }} />
    </div>
  );
}
