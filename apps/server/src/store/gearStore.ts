import { createHash } from 'node:crypto';
import type { GearFigure, GearRow, SaveGear } from '@yield/contract';
import { isSameData, type Chain, type Gear } from '@yield/core';
import type { DataSource } from 'typeorm';
import { faulty, notFound, staleSave } from '../problem.ts';

/** The shop's library of gear, beside what stands in its tunes. */
export interface GearStore {
  list: () => Promise<GearRow[]>;
  save: (id: string, gear: SaveGear) => Promise<GearRow>;
  remove: (id: string) => Promise<void>;
}

type Kept = Gear & { id: string; name: string; version: number };
type Measured = GearFigure & { kind: Gear['kind']; name: string };

/** Gear is one and the same where kind and name are. */
const keyOf = ({ kind, name }: { kind: string; name: string }): string => `${kind}/${name}`;

/** What stands in tunes alone has no id of its own: this one is always the same. */
function idOfKey(key: string): string {
  const hex = createHash('sha256').update(key).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/** Two drivers of one kind are named for their sides in a tune; the shop has one kind of them. */
const plainName = (kind: string, name: string): string =>
  kind === 'driver' ? name.replace(/,? +(left|right)( \d+)?$/i, '') || name : name;

function withPlainName(gear: Gear): Gear & { name: string } {
  const name = plainName(gear.kind, gear.body.name);
  return { ...gear, name, body: { ...gear.body, name } } as Gear & { name: string };
}

/** The gear of a tune; of one whose chain is odd nothing, so that it hides nobody else's. */
function gearIn(chain: Chain): (Gear & { name: string })[] {
  try {
    return gearOf(chain).map(withPlainName);
  } catch {
    return [];
  }
}

function gearOf({ source, processor, amplifiers, channels }: Chain): Gear[] {
  return [
    { kind: 'source', body: source },
    ...(processor === undefined ? [] : [{ kind: 'processor' as const, body: processor }]),
    ...amplifiers.map((body) => ({ kind: 'amplifier' as const, body })),
    ...channels.flatMap(({ drivers }) => drivers.map((body) => ({ kind: 'driver' as const, body }))),
  ];
}

export function gearStore(dataSource: DataSource): GearStore {
  const kept = (): Promise<Kept[]> =>
    dataSource.query<Kept[]>('SELECT "id", "kind", "name", "body", "version" FROM "gear" ORDER BY "kind", "name"');

  async function list(): Promise<GearRow[]> {
    const [library, tunes, measured] = await Promise.all([
      kept(),
      dataSource.query<{ id: string; name: string; body: Chain }[]>(
        `SELECT t."id", t."name", c."body" FROM "tune" t JOIN "chain" c ON c."tune_id" = t."id" WHERE t."deleted_at" IS NULL
         ORDER BY t."updated_at" DESC LIMIT ${MAX_TUNES}`,
      ),
      // What was measured stands beside it: where a tune's figures are odd, the gear is listed without any.
      measuredOn(dataSource).catch((error: unknown): Measured[] => {
        if (isOdd(error)) return [];
        throw error;
      }),
    ]);
    const rows = new Map<string, GearRow>(library.map((gear) => [keyOf(gear), { ...gear, tunes: [], figures: [] }]));
    for (const { name: tune, body } of tunes)
      for (const named of gearIn(body)) {
        const key = keyOf(named);
        // Of several tunes the one that was changed last has the figures.
        const row: GearRow = rows.get(key) ?? { ...named, id: idOfKey(key), version: 0, tunes: [], figures: [] };
        if (!row.tunes.includes(tune)) row.tunes.push(tune);
        rows.set(key, row);
      }
    for (const { kind, name, ...figure } of measured) rows.get(keyOf({ kind, name: plainName(kind, name) }))?.figures.push(figure);
    return [...rows.values()].sort((a, b) => a.name.localeCompare(b.name));
  }

  return {
    list,
    save: async (id, { version, kind, body }) => {
      const values = [id, kind, body.name, JSON.stringify(body)];
      const rows = await dataSource
        .query<unknown[]>(
          version === 0
            ? 'INSERT INTO "gear" ("id", "kind", "name", "body") VALUES ($1, $2, $3, $4) ON CONFLICT ("id") DO NOTHING RETURNING "id"'
            : `WITH saved AS (UPDATE "gear" SET "name" = $3, "body" = $4, "version" = "version" + 1, "updated_at" = now()
               WHERE "id" = $1 AND "kind" = $2 AND "version" = $5 RETURNING "id") SELECT * FROM saved`,
          version === 0 ? values : [...values, version],
        )
        .catch((error: unknown) => {
          if ((error as { code?: string }).code === '23505')
            throw faulty([{ pointer: '/body/name', message: `the library has a ${kind} of this name already` }]);
          throw error;
        });
      const now = (await kept()).find((gear) => gear.id === id);
      if (now === undefined) throw notFound('This gear');
      if (rows.length === 0 && (version !== 0 || !isSameData(now.body, body))) throw staleSave('This gear', now);
      return { ...now, tunes: [], figures: [] };
    },
    remove: async (id) => {
      await dataSource.query('DELETE FROM "gear" WHERE "id" = $1', [id]);
    },
  };
}

/** Data in another form than the query expects. @see PostgreSQL, appendix A, class 22 */
const isOdd = (error: unknown): boolean => String((error as { code?: unknown }).code).startsWith('22');

const MAX_TUNES = 1000;

/** What readings say of gear, by its name at the time: each as the highest, or the newest, of a tune. */
function measuredOn(dataSource: DataSource): Promise<Measured[]> {
  return dataSource.query<Measured[]>(
    `WITH "counted" AS (
       SELECT r.*, t."name" AS "tune" FROM "reading" r JOIN "tune" t ON t."id" = r."tune_id"
       WHERE r."voided_at" IS NULL AND t."deleted_at" IS NULL
     )
     SELECT 'source' AS "kind", c."body"->'source'->>'name' AS "name", t."id" AS "tuneId", t."name" AS "tune", 'highest clean volume' AS "what",
       (c."body"->'source'->>'workingVolume')::float8 AS "value", 'step' AS "unit"
     FROM "chain" c JOIN "tune" t ON t."id" = c."tune_id"
     WHERE t."deleted_at" IS NULL AND c."body"->'source'->>'volumeBasis' = 'measured'
     UNION ALL
     SELECT 'amplifier', "conditions"->>'amplifierName', "tune_id", "tune",
       'under load, ' || ("conditions"->>'loadOhm') || ' ohm', max("value"), 'V'
     FROM "counted" WHERE "kind" = 'loaded-voltage' AND "conditions" ? 'amplifierName'
     GROUP BY 2, 3, 4, "conditions"->>'loadOhm'
     UNION ALL
     SELECT "corner"->>'place', CASE "corner"->>'place' WHEN 'amplifier' THEN "corner"->>'amplifier'
         ELSE c."body"->("corner"->>'place')->>'name' END,
       t."id", t."name", "corner"->>'what', ("corner"->>'offPercent')::float8, '%'
     FROM "tune" t JOIN "chain" c ON c."tune_id" = t."id", jsonb_array_elements(t."summary"->'corners') "corner"
     WHERE t."deleted_at" IS NULL
     UNION ALL
     SELECT 'processor', "conditions"->>'processorName', "tune_id", "tune", 'at an output', max("value"), 'V'
     FROM "counted" WHERE "kind" = 'output-voltage' AND "conditions" ? 'processorName' GROUP BY 2, 3, 4
     UNION ALL
     SELECT 'driver', d."driver"->>'name', r."tune_id", r."tune", 'a coil on the meter', avg(r."value" - (r."conditions"->>'leadOhm')::float8), 'ohm'
     FROM "counted" r JOIN "chain" c ON c."tune_id" = r."tune_id",
       jsonb_array_elements(c."body"->'channels') "channel", jsonb_array_elements("channel"->'drivers') d("driver")
     WHERE r."kind" = 'coil-resistance' AND d."driver"->>'id' = r."conditions"->>'driverId' GROUP BY 2, 3, 4`,
  );
}
