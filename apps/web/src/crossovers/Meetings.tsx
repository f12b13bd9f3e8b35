import { crossingOf, formatQuantity, groupName, neighbours, signedDb, type AlikeGroups, type ProvedFilters } from '@yield/core';
import type { JSX } from 'react';

/** Level and phase where neighbours meet. */
export function Meetings({ groups, proved }: { groups: readonly AlikeGroups[]; proved: ProvedFilters }): JSX.Element | null {
  const pairs = neighbours(groups);
  if (pairs.length === 0) return null;
  return (
    <section className="panel" aria-label="Where they meet">
      <h2 className="mb-2 text-sm font-semibold">Where they meet</h2>
      <ul className="space-y-3">
        {pairs.map(([lower, upper]) => {
          const crossing = crossingOf(lower, upper, proved);
          return (
            <li key={`${lower.id}${upper.id}`}>
              <p className="text-quiet text-sm leading-tight">
                {groupName(lower)}, {groupName(upper)}
              </p>
              {crossing === undefined ? (
                <p className="text-attention font-medium">nowhere</p>
              ) : (
                <p className="flex flex-wrap items-baseline gap-x-3">
                  <span className="text-lg font-semibold">{formatQuantity(crossing.hertz, 'Hz')}</span>
                  <span>{signedDb(crossing.levelDb)} each</span>
                  <span>{Math.round(Math.abs(crossing.phaseDeg))}° apart</span>
                  <span>sum {signedDb(crossing.sumDb)}</span>
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
