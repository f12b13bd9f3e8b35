import type { Channel } from './chain.ts';

/**
 * A channel as it was edited, with what an edit takes along: other coils, or a load typed over it, make its wiring another one,
 * to be planned anew; passive parts go with their driver, an amplifier's dials with the amplifier. Every other field stays as
 * it was edited.
 */
export function normalizeChannel(before: Channel, edited: Channel): Channel {
  const { wiring, filters, passive, ...settled } = edited;
  const isRewired =
    wiring === before.wiring && wiring !== undefined && (coilsOf(before) !== coilsOf(edited) || before.loadOhm !== edited.loadOhm);
  const isMoved = before.amplifierId !== edited.amplifierId;
  return {
    ...settled,
    ...(wiring === undefined || isRewired ? {} : { wiring }),
    // Another amplifier has dials of its own.
    ...(filters === undefined
      ? {}
      : {
          filters: isMoved
            ? filters.map(({ dial, ...filter }) => (dial === undefined || filter.place === 'amplifier' ? filter : { ...filter, dial }))
            : filters,
        }),
    ...(passive === undefined ? {} : { passive: passive.filter(({ driverId }) => edited.drivers.some(({ id }) => id === driverId)) }),
  };
}

const coilsOf = ({ drivers }: Channel): string => JSON.stringify(drivers.map(({ id, coils, coilOhm }) => [id, coils, coilOhm]));
