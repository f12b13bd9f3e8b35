import { CoreError, toneSamples, track, type ToneShape, type ToneSide, type ToneTrack } from '@yield/core';
import { Plus } from 'lucide-react';
import { useState, type JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { useQuantityDraft } from '../ui/useDraft.ts';

type Kind = ToneShape['kind'];

const KINDS: readonly { value: Kind; label: string }[] = [
  { value: 'sine', label: 'Sine' },
  { value: 'sweep', label: 'Sweep' },
  { value: 'pink-noise', label: 'Noise' },
  { value: 'polarity-pulse', label: 'Pulse' },
];
const SIDES: readonly { value: ToneSide; label: string }[] = [
  { value: 'both', label: 'Both' },
  { value: 'left', label: 'Left' },
  { value: 'right', label: 'Right' },
];

/** A tone of one's own, added to the set. */
export function NewTone({ taken, onAdd }: { taken: readonly string[]; onAdd: (track: ToneTrack) => void }): JSX.Element {
  const [kind, setKind] = useState<Kind>('sine');
  const [side, setSide] = useState<ToneSide>('both');
  const hertz = useQuantityDraft('tones/new/hertz', 'Hz', '60');
  const toHertz = useQuantityDraft('tones/new/to', 'Hz', '200');
  const level = useQuantityDraft('tones/new/level', 'dBFS', '−5', -121);
  const seconds = useQuantityDraft('tones/new/seconds', 's', '30');
  const fade = useQuantityDraft('tones/new/fade', 's', '0.05', -1e-9);
  const [refusal, setRefusal] = useState<string | null>(null);
  const add = (): void => {
    const [from, to, db, length, fadeSecond] = [hertz.value, toHertz.value, level.value, seconds.value, fade.value];
    if (from === undefined || to === undefined || db === undefined || length === undefined || fadeSecond === undefined) {
      setRefusal('Fill in every field first.');
      return;
    }
    const added = track(shapeOf(kind, from, to), db, length, fadeSecond, side);
    if (taken.includes(added.name)) {
      setRefusal('That tone is in the set already.');
      return;
    }
    try {
      // A short piece shows whether such a tone can be made at all.
      toneSamples({ ...added, seconds: Math.min(length, 2), sampleRateHz: 44_100 });
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      setRefusal(`${error.message.charAt(0).toUpperCase()}${error.message.slice(1)}.`);
      return;
    }
    setRefusal(null);
    onAdd(added);
  };
  return (
    <section className="panel" aria-label="Another tone">
      <Reveal summary="Another tone">
        <form
          className="space-y-3"
          onSubmit={(event) => {
            event.preventDefault();
            add();
          }}
        >
          <ChoiceField label="Kind" value={kind} choices={KINDS} onChange={setKind} />
          <div className="grid grid-cols-2 gap-3">
            {(kind === 'sine' || kind === 'sweep') && (
              <QuantityField label={kind === 'sine' ? 'Frequency' : 'From'} unit="Hz" draft={hertz} />
            )}
            {kind === 'sweep' && <QuantityField label="To" unit="Hz" draft={toHertz} />}
            <QuantityField label="Level" unit="dBFS" draft={level} />
            <QuantityField label="Length" unit="s" draft={seconds} />
            <QuantityField label="Fades" unit="s" draft={fade} />
          </div>
          <ChoiceField label="Sides" value={side} choices={SIDES} onChange={setSide} />
          {refusal !== null && (
            <p role="alert" className="text-stop text-sm font-medium">
              {refusal}
            </p>
          )}
          <button type="submit" className="btn btn-tall w-full">
            <Plus size={18} aria-hidden /> Add to the set
          </button>
        </form>
      </Reveal>
    </section>
  );
}

function shapeOf(kind: Kind, fromHertz: number, toHertz: number): ToneShape {
  switch (kind) {
    case 'sine':
      return { kind, hertz: fromHertz };
    case 'sweep':
      return { kind, fromHertz, toHertz };
    case 'pink-noise':
      return { kind, seed: 'yield' };
    case 'polarity-pulse':
      return { kind };
  }
}
