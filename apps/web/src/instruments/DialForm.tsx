import {
  dialTableText,
  FAMILY_NAMES,
  FILTER_FAMILIES,
  formatQuantity,
  ordersOf,
  readDialTable,
  type Dial,
  type FilterFamily,
  type FilterKind,
} from '@yield/core';
import { Upload } from 'lucide-react';
import { useId, useRef, useState, type JSX } from 'react';
import { newId } from '../chain/chainFields.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { useDraft } from '../ui/useDraft.ts';

export const newDial = (): Dial => ({
  id: newId(),
  name: '',
  kind: 'lowpass',
  family: 'butterworth',
  order: 2,
  stops: 'clicks',
  table: [],
  multipliers: [1],
});

/** A knob for a corner, with the table that its manual prints. */
export function DialForm({
  dial,
  draftKey,
  onSave,
  onCancel,
}: {
  dial: Dial;
  draftKey: string;
  onSave: (dial: Dial) => void;
  onCancel: () => void;
}): JSX.Element {
  const [name, setName] = useDraft(`${draftKey}/name`, dial.name);
  const [kind, setKind] = useDraft(`${draftKey}/kind`, dial.kind);
  const [family, setFamily] = useDraft(`${draftKey}/family`, dial.family);
  const [order, setOrder] = useDraft(`${draftKey}/order`, String(dial.order));
  const [stops, setStops] = useDraft(`${draftKey}/stops`, dial.stops);
  const [times, setTimes] = useDraft(`${draftKey}/times`, dial.multipliers.join(', '));
  const [text, setText] = useDraft(`${draftKey}/table`, dialTableText(dial.table));
  const [asked, setAsked] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const id = useId();
  const { table, faults } = readDialTable(text);
  const multipliers = [...new Set(times.split(/[\s,;/]+/).map((each) => Number(each.replace(/^[x×]/i, ''))))];
  const timesFault = multipliers.length === 0 || multipliers.some((each) => !(each > 0)) ? 'Figures such as 1, 10.' : null;
  const isReady = name.trim() !== '' && faults.length === 0 && timesFault === null;
  const forget = (): void => [setName, setKind, setFamily, setOrder, setStops, setTimes, setText].forEach((set) => set(null));
  const orders = ordersOf(family as FilterFamily);
  return (
    <form
      className="space-y-4"
      onSubmit={(event) => {
        event.preventDefault();
        setAsked(true);
        if (!isReady) return;
        const kept = orders.includes(Number(order)) ? Number(order) : orders[0]!;
        onSave({
          id: dial.id,
          name: name.trim(),
          kind: kind as FilterKind,
          family: family as FilterFamily,
          order: kept,
          stops: stops as Dial['stops'],
          table,
          multipliers,
        });
        forget();
      }}
    >
      <div className="grid gap-4 sm:grid-cols-2">
        <label className="sm:col-span-2">
          <span className="label mb-1 block">Dial</span>
          <input
            className="input min-h-11 w-full"
            value={name}
            autoComplete="off"
            onChange={(event) => setName(event.target.value)}
            placeholder="As printed, such as LPF"
          />
          {asked && name.trim() === '' && <span className="text-stop mt-1 block text-sm">Give it a name.</span>}
        </label>
        <ChoiceField
          label="Turns the"
          value={kind as FilterKind}
          choices={[
            { value: 'highpass', label: 'High-pass' },
            { value: 'lowpass', label: 'Low-pass' },
          ]}
          onChange={setKind}
        />
        <ChoiceField
          label="Between its stops"
          value={stops as Dial['stops']}
          choices={[
            { value: 'clicks', label: 'It clicks' },
            { value: 'marks', label: 'It turns freely' },
          ]}
          onChange={setStops}
        />
        <label>
          <span className="label mb-1 block">Slope</span>
          <select className="select min-h-11 w-full" value={order} onChange={(event) => setOrder(event.target.value)}>
            {orders.map((each) => (
              <option key={each} value={each}>
                {6 * each} dB per octave
              </option>
            ))}
          </select>
        </label>
        <label>
          <span className="label mb-1 block">Alignment</span>
          <select className="select min-h-11 w-full" value={family} onChange={(event) => setFamily(event.target.value)}>
            {FILTER_FAMILIES.map((each) => (
              <option key={each} value={each}>
                {FAMILY_NAMES[each]}
              </option>
            ))}
          </select>
        </label>
        <label className="sm:col-span-2">
          <span className="label mb-1 block">Multiplier switch</span>
          <input
            className="input min-h-11 w-full sm:w-60"
            value={times}
            autoComplete="off"
            onChange={(event) => setTimes(event.target.value)}
          />
          <span className={`mt-1 block text-sm ${timesFault === null ? 'text-quiet' : 'text-stop'}`}>
            {timesFault ?? '1 alone where there is none; 1, 10 for a switch with ×1 and ×10'}
          </span>
        </label>
      </div>
      <div className="grid gap-4 sm:grid-cols-2">
        <div>
          <label htmlFor={id} className="label mb-1 block">
            Table: click and corner on each line
          </label>
          <textarea
            id={id}
            className="textarea h-48 w-full font-medium"
            value={text}
            spellCheck={false}
            placeholder={'1\t40\n2\t43\n3\t46'}
            aria-invalid={text !== '' && faults.length > 0}
            onChange={(event) => setText(event.target.value)}
          />
          <input
            ref={file}
            type="file"
            accept=".csv,.txt,.tsv,text/csv,text/plain"
            className="sr-only"
            aria-label="Table from a CSV file"
            onChange={(event) => {
              const chosen = event.target.files?.[0];
              event.target.value = '';
              if (chosen !== undefined) void chosen.text().then(setText);
            }}
          />
          <button type="button" className="btn mt-2" onClick={() => file.current?.click()}>
            <Upload size={18} aria-hidden /> From a CSV file
          </button>
        </div>
        <div aria-live="polite" data-testid="table-reading">
          <p className="label mb-1">As it reads</p>
          {text.trim() !== '' && faults.length > 0 ? (
            <ul className="space-y-2">
              {table.length > 0 && <li>{table.length} read well.</li>}
              {faults.slice(0, 8).map(({ line, message }) => (
                <li key={`${line}${message}`} className="text-stop leading-snug">
                  Line {line}: {message}
                </li>
              ))}
            </ul>
          ) : table.length < 2 ? (
            <p className="text-quiet">Paste the table from the manual or type it. With corners only, the clicks are counted.</p>
          ) : (
            <>
              <p className="text-lg font-semibold">
                {table.length} {stops === 'clicks' ? 'clicks' : 'marks'}
              </p>
              {timesFault === null &&
                multipliers.map((multiplier) => (
                  <p key={multiplier}>
                    ×{multiplier}: {formatQuantity(table[0]!.cornerHz * multiplier, 'Hz')} to{' '}
                    {formatQuantity(table.at(-1)!.cornerHz * multiplier, 'Hz')}
                  </p>
                ))}
            </>
          )}
        </div>
      </div>
      <div className="flex gap-3">
        <button type="submit" className="btn btn-primary btn-tall" disabled={asked && !isReady}>
          Keep the dial
        </button>
        <button
          type="button"
          className="btn btn-tall"
          onClick={() => {
            forget();
            onCancel();
          }}
        >
          Back
        </button>
      </div>
    </form>
  );
}
