import { readCurve, type CurvePoint, type Fault } from '@yield/core';
import { FileUp } from 'lucide-react';
import { useId, useRef, useState, type JSX } from 'react';
import { useDraft } from '../useDraft.ts';

interface Props {
  draftKey: string;
  label: string;
  value: readonly CurvePoint[] | undefined;
  placeholder: string;
  submitLabel: string;
  /** there is something else to be saved with it */
  canBeSame?: boolean;
  /** undefined takes the curve away */
  onSubmit: (points: CurvePoint[] | undefined) => Promise<readonly Fault[]>;
}

/** A curve as text, frequency and decibels in each line: typed, pasted or out of a file. */
export function CurveText({ draftKey, label, value, placeholder, submitLabel, canBeSame = false, onSubmit }: Props): JSX.Element {
  const id = useId();
  const file = useRef<HTMLInputElement>(null);
  const stored = (value ?? []).map(({ hertz, db }) => `${hertz}  ${db}`).join('\n');
  const [text, setText] = useDraft(draftKey, stored);
  const [faults, setFaults] = useState<readonly Fault[]>([]);
  const submit = async (): Promise<void> => {
    const { frequenciesHz, levelDb, faults: wrong } = readCurve(text, 2);
    if (text.trim() !== '' && wrong.length > 0) {
      setFaults(wrong);
      return;
    }
    const points = frequenciesHz.map((hertz, k) => ({ hertz, db: levelDb[k]! }));
    const found = await onSubmit(text.trim() === '' ? undefined : points);
    setFaults(found);
    if (found.length === 0) setText(null);
  };
  return (
    <form
      className="max-w-xl"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <label htmlFor={id} className="label mb-1 block">
        {label}
      </label>
      <textarea
        id={id}
        className="textarea min-h-36 w-full font-mono"
        spellCheck={false}
        value={text}
        placeholder={placeholder}
        aria-invalid={faults.length > 0}
        aria-describedby={`${id}-faults`}
        onChange={(event) => setText(event.target.value)}
      />
      <ul id={`${id}-faults`} role="alert" className="text-stop text-sm">
        {faults.slice(0, 3).map(({ message }) => (
          <li key={message}>{message}</li>
        ))}
        {faults.length > 3 && <li>{faults.length - 3} more lines are wrong.</li>}
      </ul>
      <div className="mt-2 flex flex-wrap gap-3">
        <button type="submit" className="btn btn-tall" disabled={text === stored && !canBeSame}>
          {submitLabel}
        </button>
        <button type="button" className="btn btn-ghost btn-tall" onClick={() => file.current?.click()}>
          <FileUp size={18} aria-hidden /> From a file
        </button>
        <input
          ref={file}
          type="file"
          className="sr-only"
          tabIndex={-1}
          aria-label={`${label}, as a file`}
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            event.target.value = '';
            if (chosen === undefined) return;
            if (chosen.size > MAX_BYTES)
              setFaults([{ pointer: '', message: 'This file is longer than any such table: a few hundred lines are enough.' }]);
            else void chosen.text().then(setText);
          }}
        />
      </div>
    </form>
  );
}

const MAX_BYTES = 1_000_000;
