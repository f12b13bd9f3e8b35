import type { JSX } from 'react';

/** What a simulated meter shows. */
export function MeterDisplay({ display, range, sign }: { display: string; range: string; sign: string }): JSX.Element {
  return (
    <div className="bg-ground border-line mt-3 rounded-md border px-3 py-2 text-right">
      <p className="text-quiet text-left text-xs">{range}</p>
      <output className="text-4xl font-semibold" aria-label="Meter display" aria-live="off">
        {display}
      </output>{' '}
      <span className="text-quiet text-xl">{sign}</span>
    </div>
  );
}
