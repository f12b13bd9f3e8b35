import { useId, type JSX } from 'react';

/** A few choices side by side, one of them on: a row of radio buttons that the arrow keys move through. */
export function ChoiceField<T extends string>({
  label,
  value,
  choices,
  onChange,
  hideLabel = false,
}: {
  label: string;
  value: T;
  choices: readonly { value: T; label: string }[];
  onChange: (value: T) => void;
  hideLabel?: boolean;
}): JSX.Element {
  const name = useId();
  return (
    <fieldset className="min-w-0">
      <legend className={hideLabel ? 'sr-only' : 'label mb-1 block'}>{label}</legend>
      <div className="border-line bg-ground inline-flex max-w-full flex-wrap rounded-md border p-0.5">
        {choices.map((choice) => (
          <label
            key={choice.value}
            className={`relative flex min-h-10 min-w-11 cursor-pointer items-center justify-center rounded-[5px] px-3 text-[0.9375rem] font-medium has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-(--action) ${choice.value === value ? 'bg-action text-ground' : 'text-ink hover:bg-raised'}`}
          >
            <input
              type="radio"
              name={name}
              value={choice.value}
              checked={choice.value === value}
              onChange={() => onChange(choice.value)}
              className="sr-only"
            />
            {choice.label}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
