import { type Chain, type Dial, type DialGear, dialGearIn, formatQuantity, withDials } from '@yield/core';
import { Trash2 } from 'lucide-react';
import { useState, type JSX } from 'react';
import { newId } from '../chain/chainFields.ts';
import { DialForm, newDial } from '../instruments/DialForm.tsx';
import { FromGear } from '../instruments/FromGear.tsx';
import { Dialog } from '../ui/Dialog.tsx';

/** The dials of one piece of gear: each with the table that its manual prints. */
export function DialsDialog({
  chain,
  gear,
  tuneId,
  onChange,
  onClose,
}: {
  chain: Chain;
  gear: DialGear;
  tuneId: string;
  onChange: (chain: Chain) => void;
  onClose: () => void;
}): JSX.Element {
  const dials = dialGearIn(chain, gear)?.dials ?? [];
  const [editing, setEditing] = useState<Dial | null>(null);
  const save = (next: readonly Dial[]): void => onChange(withDials(chain, gear, next));
  return (
    <Dialog title={`Dials of ${gear.name}`} onClose={onClose} wide>
      {editing === null ? (
        <>
          <p className="text-quiet mb-4 max-w-prose">
            A knob for a corner, with the table from its manual. Yield then names the click and the switch for any corner, and what they
            really give.
          </p>
          <ul className="border-line divide-line divide-y border-y">
            {dials.map((dial) => (
              <li key={dial.id} className="flex items-center gap-4 py-2">
                <div className="min-w-0 flex-1">
                  <p className="font-semibold">{dial.name}</p>
                  <p className="text-quiet text-sm">{dialWordsOf(dial)}</p>
                </div>
                <button type="button" className="btn" onClick={() => setEditing(dial)}>
                  Change
                </button>
                <button
                  type="button"
                  className="btn btn-ghost btn-square"
                  aria-label={`Remove ${dial.name}`}
                  onClick={() => save(dials.filter(({ id }) => id !== dial.id))}
                >
                  <Trash2 size={18} aria-hidden />
                </button>
              </li>
            ))}
            {dials.length === 0 && <li className="text-quiet py-4">No dial yet.</li>}
          </ul>
          <div className="mt-4 flex flex-wrap items-end gap-4">
            <button type="button" className="btn btn-primary btn-tall" onClick={() => setEditing(newDial())}>
              Add a dial
            </button>
            <FromGear kind="dial" onTake={(dial) => save([...dials, { ...dial, id: newId() }])} />
          </div>
        </>
      ) : (
        <DialForm
          key={editing.id}
          dial={editing}
          draftKey={`dial/${tuneId}/${gear.place}/${gear.id}/${dials.some(({ id }) => id === editing.id) ? editing.id : 'new'}`}
          onCancel={() => setEditing(null)}
          onSave={(dial) => {
            save(dials.some(({ id }) => id === dial.id) ? dials.map((each) => (each.id === dial.id ? dial : each)) : [...dials, dial]);
            setEditing(null);
          }}
        />
      )}
    </Dialog>
  );
}

function dialWordsOf({ kind, order, table, multipliers, stops }: Dial): string {
  const [first, last] = [table[0], table.at(-1)];
  const span =
    first === undefined || last === undefined ? '' : `, ${formatQuantity(first.cornerHz, 'Hz')} to ${formatQuantity(last.cornerHz, 'Hz')}`;
  const times = multipliers.length > 1 ? `, ${multipliers.map((multiplier) => `×${multiplier}`).join(' and ')}` : '';
  return `${kind === 'highpass' ? 'High-pass' : 'Low-pass'}, ${6 * order} dB per octave, ${table.length} ${stops}${span}${times}`;
}
