import type { JSX } from 'react';

export function BigFigure({ label, value, note }: { label: string; value: string; note?: string }): JSX.Element {
  return (
    <div>
      <p className="label">{label}</p>
      <p className="figure whitespace-nowrap">{value}</p>
      {note !== undefined && <p className="text-quiet mt-1 text-sm">{note}</p>}
    </div>
  );
}
