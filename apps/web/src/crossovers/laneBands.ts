import { safeCorner, type AlikeGroups } from '@yield/core';
import { PICTURE_HZ } from './curvePoints.ts';

/** What all drivers of a driver group have in common; undefined where no range is known. */
export function bandOf({ drivers }: AlikeGroups): { from: number; to: number } | undefined {
  if (!drivers.some(({ usableFromHz, usableToHz }) => usableFromHz !== undefined || usableToHz !== undefined)) return undefined;
  return {
    from: Math.max(PICTURE_HZ.from, ...drivers.map(({ usableFromHz = PICTURE_HZ.from }) => usableFromHz)),
    to: Math.min(PICTURE_HZ.to, ...drivers.map(({ usableToHz = PICTURE_HZ.to }) => usableToHz)),
  };
}

/** The lowest safe high-pass with the slope that is set. */
export function limitOf({ drivers, filters, role }: AlikeGroups, share: number): number | undefined {
  if (role === 'subwoofer') return undefined;
  const order = filters.find(({ kind }) => kind === 'highpass')?.order ?? 4;
  const limits = drivers.flatMap((driver) => {
    const safe = safeCorner(driver, 'highpass', order, share);
    return safe.kind === 'known' ? [safe.limitHz] : [];
  });
  return limits.length === 0 ? undefined : Math.max(...limits);
}
