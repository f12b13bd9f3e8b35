import { formatQuantity, RATING_SLACK, type DriverPower } from '@yield/core';
import type { JSX } from 'react';

/** What each driver gets from the amplifier at its rating, as a bar against its own rating; drivers that get the same stand together. */
export function DriverPowers({ drivers, names }: { drivers: readonly DriverPower[]; names: ReadonlyMap<string, string> }): JSX.Element {
  return (
    <section aria-label="Power per driver">
      <h3 className="text-sm font-semibold">Power per driver</h3>
      <ul className="mt-2 space-y-2.5">
        {alike(drivers).map((group) => (
          <Group key={group[0]?.driver} group={group} names={names} />
        ))}
      </ul>
    </section>
  );
}

function Group({ group, names }: { group: readonly DriverPower[]; names: ReadonlyMap<string, string> }): JSX.Element | null {
  const [first] = group;
  if (first === undefined) return null;
  const { driver, powerWatt, coilsWatt, ratedPowerWatt, ratedPart } = first;
  const over = ratedPart !== undefined && ratedPart > RATING_SLACK;
  const letters = group.length > 2 ? `${driver} to ${group.at(-1)?.driver ?? ''}` : group.map((d) => d.driver).join(', ');
  const perCoil = [...new Set(coilsWatt.map((watt) => formatQuantity(watt, 'W')))].join(' and ');
  const words = [
    ...(over ? ['over its rating: set the gain for less'] : []),
    ...(coilsWatt.length > 1 ? [`${perCoil} in each of ${coilsWatt.length} coils`] : []),
  ].join('; ');
  return (
    <li>
      <p className="flex items-baseline justify-between gap-3">
        <span className="min-w-0 truncate" title={names.get(driver)}>
          <span className="font-semibold">{letters}</span>{' '}
          <span className="text-quiet text-sm">{group.length > 1 ? 'each' : names.get(driver)}</span>
        </span>
        <span className="font-medium whitespace-nowrap">
          {formatQuantity(powerWatt, 'W')}
          {ratedPowerWatt !== undefined && <span className="text-quiet font-normal"> of {formatQuantity(ratedPowerWatt, 'W')}</span>}
        </span>
      </p>
      {ratedPart !== undefined && (
        <span className="bg-line mt-1 block h-1.5 overflow-hidden rounded-full" aria-hidden>
          <span
            className={`block h-full rounded-full ${over ? 'bg-attention' : 'bg-good'}`}
            style={{ width: `${Math.min(100, 100 * ratedPart)}%` }}
          />
        </span>
      )}
      {words !== '' && <p className={`mt-0.5 text-[0.8125rem] ${over ? 'text-attention font-medium' : 'text-quiet'}`}>{words}</p>}
    </li>
  );
}

/** Neighbours with the same power and rating. */
function alike(drivers: readonly DriverPower[]): DriverPower[][] {
  const groups: DriverPower[][] = [];
  for (const driver of drivers) {
    const last = groups.at(-1)?.[0];
    const same =
      last !== undefined &&
      last.ratedPowerWatt === driver.ratedPowerWatt &&
      Math.abs(last.powerWatt - driver.powerWatt) < 1e-6 * driver.powerWatt;
    if (same) groups.at(-1)?.push(driver);
    else groups.push([driver]);
  }
  return groups;
}
