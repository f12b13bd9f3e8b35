import { formatQuantity, sizeDoubt, UNITS, USUAL_SIZES, type Unit } from '@yield/core';
import { useId, type JSX } from 'react';
import type { QuantityDraft } from './useDraft.ts';

/** One figure with its unit, read as it is typed. */
export function QuantityField({
  label,
  unit,
  draft,
  hint,
  className = '',
  hideLabel = false,
}: {
  label: string;
  unit: Unit;
  draft: QuantityDraft;
  hint?: string;
  className?: string;
  hideLabel?: boolean;
}): JSX.Element {
  const id = useId();
  const words = draft.fault ?? hint;
  const usual = unit in USUAL_SIZES ? USUAL_SIZES[unit as keyof typeof USUAL_SIZES] : undefined;
  const likely = draft.value === undefined || usual === undefined ? undefined : sizeDoubt(draft.value, usual)?.likely;
  return (
    <div className={`relative min-w-0 ${className}`}>
      <label htmlFor={id} className={hideLabel ? 'sr-only' : 'label mb-1 block'}>
        {label}
      </label>
      <span className={`input min-h-11 w-full ${draft.fault === undefined ? '' : 'input-error'}`}>
        <input
          id={id}
          className="min-w-0 grow font-medium"
          autoComplete="off"
          inputMode="decimal"
          value={draft.text}
          aria-invalid={draft.fault !== undefined}
          aria-describedby={words === undefined ? undefined : `${id}-words`}
          onChange={(event) => draft.setText(event.target.value)}
        />
        <span className="text-quiet">{UNITS[unit].sign}</span>
      </span>
      {likely !== undefined && (
        <button
          type="button"
          className="btn btn-sm mt-1 min-h-11"
          onClick={() => {
            draft.setText(`${likely}`);
            // The button goes; the hand stays at the field.
            document.getElementById(id)?.focus();
          }}
        >
          {formatQuantity(likely, unit)}?
        </button>
      )}
      {words !== undefined && (
        <p id={`${id}-words`} className={`mt-1 text-sm leading-snug ${draft.fault === undefined ? 'text-quiet' : 'text-stop'}`}>
          {words}
        </p>
      )}
    </div>
  );
}
