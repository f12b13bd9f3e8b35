import { formatQuantity, lowestLoad, MAX_DRIVERS, type HookupMode, type Unit } from '@yield/core';
import { ChevronRight, Minus, Plus, Trash2 } from 'lucide-react';
import type { JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { readQuantity } from '../ui/useDraft.ts';
import type { AmplifierDraft, Desk, DriverRow } from './deskDraft.ts';

/** Drivers and amplifier, typed straight onto the desk. */
export function DeskInputs({ desk }: { desk: Desk }): JSX.Element {
  return (
    <div className="panel">
      <DriverRows desk={desk} />
      <details className="group border-line mt-2 border-t pt-1">
        <summary className="flex min-h-11 cursor-pointer list-none items-center gap-2">
          <span className="font-semibold">Amplifier</span>
          <span className="text-quiet min-w-0 flex-1 truncate text-sm">{amplifierWords(desk)}</span>
          <ChevronRight size={18} aria-hidden className="text-action transition-transform group-open:rotate-90" />
        </summary>
        <AmplifierInputs amplifier={desk.amplifier} onChange={desk.setAmplifier} />
      </details>
    </div>
  );
}

function amplifierWords({ planAmplifier }: Desk): string {
  const lowest = lowestLoad(planAmplifier);
  const words = lowest === undefined ? 'lowest load unknown' : `down to ${formatQuantity(lowest, 'ohm')}`;
  const strongest = [...planAmplifier.ratings].sort((a, b) => b.powerWatt - a.powerWatt)[0];
  return `${planAmplifier.mode}, ${words}${strongest === undefined ? '' : `, ${formatQuantity(strongest.powerWatt, 'W')}`}`;
}

export function DriverRows({ desk }: { desk: Desk }): JSX.Element {
  const { rows, setRows } = desk;
  const total = rows.reduce((sum, { count }) => sum + count, 0);
  const change = (index: number, patch: Partial<DriverRow>): void =>
    setRows(rows.map((row, i) => (i === index ? { ...row, ...patch } : row)));
  return (
    <section aria-label="Drivers">
      <div className="flex items-baseline justify-between">
        <h2 className="font-semibold">Drivers</h2>
        <span className="text-quiet text-sm">
          {total} of {MAX_DRIVERS}
        </span>
      </div>
      <ul className="divide-line divide-y">
        {rows.map((row, i) => (
          <li key={i} className="space-y-3 py-3">
            <div className="flex flex-wrap items-end justify-between gap-3">
              <Stepper
                value={row.count}
                most={row.count + MAX_DRIVERS - total}
                onChange={(count) => change(i, { count })}
                what={`drivers of kind ${i + 1}`}
              />
              <ChoiceField
                label="Coils in each"
                value={row.coils}
                choices={[
                  { value: '1', label: '1' },
                  { value: '2', label: '2' },
                  { value: '4', label: '4' },
                ]}
                onChange={(coils) => change(i, { coils })}
              />
            </div>
            <div className="grid grid-cols-3 gap-2">
              <TextQuantity label="Each coil" unit="ohm" text={row.coilOhm} onText={(coilOhm) => change(i, { coilOhm })} />
              <TextQuantity label="Measured" unit="ohm" text={row.dcOhm} onText={(dcOhm) => change(i, { dcOhm })} />
              <TextQuantity label="Rated" unit="W" text={row.ratedWatt} onText={(ratedWatt) => change(i, { ratedWatt })} />
            </div>
            {rows.length > 1 && (
              <button
                type="button"
                className="btn btn-ghost btn-sm text-quiet min-h-11"
                onClick={() => setRows(rows.filter((_, other) => other !== i))}
              >
                <Trash2 size={16} aria-hidden /> Take out kind {i + 1}
              </button>
            )}
          </li>
        ))}
      </ul>
      {total < MAX_DRIVERS && (
        <button
          type="button"
          className="btn btn-ghost text-action -ml-3"
          onClick={() => setRows([...rows, { count: 1, coils: '1', coilOhm: '4', dcOhm: '', ratedWatt: '' }])}
        >
          <Plus size={18} aria-hidden /> Another kind of driver
        </button>
      )}
    </section>
  );
}

function Stepper({
  value,
  most,
  onChange,
  what,
}: {
  value: number;
  most: number;
  onChange: (value: number) => void;
  what: string;
}): JSX.Element {
  return (
    <div>
      <p className="label mb-1 block">How many</p>
      <div className="border-line bg-ground inline-flex items-center rounded-md border">
        <button
          type="button"
          className="btn btn-ghost btn-square"
          aria-label={`Fewer ${what}`}
          disabled={value <= 1}
          onClick={() => onChange(value - 1)}
        >
          <Minus size={18} aria-hidden />
        </button>
        <output className="min-w-8 text-center text-lg font-semibold" aria-label={what}>
          {value}
        </output>
        <button
          type="button"
          className="btn btn-ghost btn-square"
          aria-label={`More ${what}`}
          disabled={value >= most}
          onClick={() => onChange(value + 1)}
        >
          <Plus size={18} aria-hidden />
        </button>
      </div>
    </div>
  );
}

const MODES: readonly { value: HookupMode; label: string }[] = [
  { value: 'mono', label: 'Mono' },
  { value: 'stereo', label: 'Stereo' },
  { value: 'bridged', label: 'Bridged' },
];

function AmplifierInputs({ amplifier, onChange }: { amplifier: AmplifierDraft; onChange: (next: AmplifierDraft) => void }): JSX.Element {
  const { mode, ratings } = amplifier;
  return (
    <section aria-label="Amplifier" className="space-y-3 pt-1">
      <ChoiceField label="One channel, used" value={mode} choices={MODES} onChange={(next) => onChange({ ...amplifier, mode: next })} />
      <div className="grid grid-cols-2 gap-3">
        {mode === 'mono' && (
          <>
            <TextQuantity
              label="Lowest load, mono"
              unit="ohm"
              text={amplifier.minimumMono}
              onText={(minimumMono) => onChange({ ...amplifier, minimumMono })}
            />
            <ChoiceField
              label="Pairs of terminals"
              value={amplifier.terminalPairs}
              choices={[
                { value: '1', label: '1' },
                { value: '2', label: '2' },
              ]}
              onChange={(terminalPairs) => onChange({ ...amplifier, terminalPairs })}
            />
          </>
        )}
        {mode === 'bridged' && (
          <TextQuantity
            label="Lowest load, bridged"
            unit="ohm"
            text={amplifier.minimumBridged}
            onText={(minimumBridged) => onChange({ ...amplifier, minimumBridged })}
          />
        )}
        {mode !== 'mono' && (
          <TextQuantity
            label="Lowest load, stereo"
            unit="ohm"
            text={amplifier.minimumStereo}
            onText={(minimumStereo) => onChange({ ...amplifier, minimumStereo })}
          />
        )}
      </div>
      <div>
        <p className="label block">Rated power, from its plate</p>
        <div className="mt-1 space-y-2">
          {ratings.map((rating, i) => (
            <div key={i} className="grid grid-cols-[1fr_auto_1fr] items-center gap-2">
              <TextQuantity
                label={`Rated power ${i + 1}`}
                hideLabel
                unit="W"
                text={rating.watt}
                onText={(watt) => onChange({ ...amplifier, ratings: ratings.map((r, other) => (other === i ? { ...r, watt } : r)) })}
              />
              <span className="text-quiet text-sm">into</span>
              <TextQuantity
                label={`into load ${i + 1}`}
                hideLabel
                unit="ohm"
                text={rating.ohm}
                onText={(ohm) => onChange({ ...amplifier, ratings: ratings.map((r, other) => (other === i ? { ...r, ohm } : r)) })}
              />
            </div>
          ))}
        </div>
      </div>
    </section>
  );
}

function TextQuantity({
  label,
  unit,
  text,
  onText,
  hideLabel = false,
}: {
  label: string;
  unit: Unit;
  text: string;
  onText: (text: string) => void;
  hideLabel?: boolean;
}): JSX.Element {
  return (
    <QuantityField
      label={label}
      hideLabel={hideLabel}
      unit={unit}
      draft={{ text, setText: (next) => onText(next ?? ''), ...readQuantity(text, unit) }}
    />
  );
}
