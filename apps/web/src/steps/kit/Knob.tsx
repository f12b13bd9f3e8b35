import type { JSX } from 'react';

/** A knob of the simulated bench, from 0 to 1. */
export function Knob({ label, value, onTurn }: { label: string; value: number; onTurn: (position: number) => void }): JSX.Element {
  return (
    <label className="mt-3 block">
      <span className="label">{label}</span>
      <input
        type="range"
        min={0}
        max={1}
        step={0.002}
        value={value}
        className="range range-primary mt-2 w-full"
        onChange={(event) => onTurn(Number(event.target.value))}
      />
    </label>
  );
}
