import { formatQuantity, type OtherSupply } from '@yield/core';
import type { JSX } from 'react';

/** Less than this a gain is not told from being right at it. */
const TOLD_DB = 0.05;

/** What the amplifier would give at another supply: engine running, engine off. */
export function OtherSupplies({
  supplies,
  isRegulated,
}: {
  supplies: readonly OtherSupply[] | undefined;
  isRegulated: boolean;
}): JSX.Element {
  if (supplies === undefined) {
    return (
      <p className="text-quiet text-sm">
        What it would be at another supply cannot be said: a capture that shows where it flattens, or the supply that its rating was made
        at, would tell.
      </p>
    );
  }
  return (
    <div>
      <p className="label mt-2">At another supply it is clean up to about</p>
      <dl className="mt-1 grid max-w-xl grid-cols-[auto_auto_auto_1fr] items-baseline gap-x-6 gap-y-1" aria-label="At other supplies">
        {supplies.map(({ supplyVolt, cleanVolt, powerWatt, overDb }) => (
          <div key={supplyVolt} className="contents">
            <dt className="text-quiet">{formatQuantity(supplyVolt, 'V')}</dt>
            <dd className="text-right font-semibold">{formatQuantity(cleanVolt, 'V')}</dd>
            <dd className="text-right">{formatQuantity(powerWatt, 'W')}</dd>
            <dd className="text-quiet text-sm">{overWords(overDb)}</dd>
          </div>
        ))}
      </dl>
      <p className="text-quiet mt-1 text-sm">
        {isRegulated
          ? 'Its supply is regulated: no change down to its minimum voltage.'
          : 'Its rails follow the car’s voltage; wires and fuses are left out.'}
      </p>
    </div>
  );
}

function overWords(overDb: number | undefined): string {
  if (overDb === undefined) return '';
  if (Math.abs(overDb) < TOLD_DB) return 'this gain lies right at it';
  return overDb > 0 ? `this gain clips by ${formatQuantity(overDb, 'dB')}` : `this gain has ${formatQuantity(-overDb, 'dB')} to spare`;
}
