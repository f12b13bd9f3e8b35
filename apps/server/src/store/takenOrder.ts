import type { EntityManager } from 'typeorm';
import type { Taken } from '../clocks.ts';

/** What is stored of when, and by whom, something was taken. */
export interface TakenColumns {
  takenAt: Date;
  clientAt: Date;
  device: string | null;
  deviceCount: number | null;
}

/**
 * When something was taken, never before what the same device sent earlier, nor before what lies in the future: there the server's own clock
 * was ahead once. A script that says its times itself is believed.
 */
export async function inOrder(manager: EntityManager, tuneId: string, { takenAt, clientAt, sender }: Taken): Promise<TakenColumns> {
  if (sender === undefined) return { takenAt, clientAt, device: null, deviceCount: null };
  const { device, count } = sender;
  const [row] = await manager.query<{ last: Date | null }[]>(
    `SELECT max("taken_at") AS "last" FROM (
       SELECT "taken_at", "device", "device_count" FROM "reading" WHERE "tune_id" = $1
       UNION ALL SELECT "taken_at", "device", "device_count" FROM "trace" WHERE "tune_id" = $1
     ) "all" WHERE ("device" = $2 AND "device_count" < $3) OR "taken_at" > now() + interval '1 minute'`,
    [tuneId, device, count],
  );
  const last = row?.last?.getTime() ?? -Infinity;
  return { takenAt: takenAt.getTime() > last ? takenAt : new Date(last + 1), clientAt, device, deviceCount: count };
}
