import type { SaveShop, ShopSettings } from '@yield/contract';
import { NEW_SHOP, type TuneSettings } from '@yield/core';
import type { DataSource } from 'typeorm';
import { staleSave } from '../problem.ts';

/** The shop's own house rules and meter. */
export interface ShopStore {
  read: () => Promise<ShopSettings>;
  save: (shop: SaveShop) => Promise<ShopSettings>;
}

export function shopStore(dataSource: DataSource): ShopStore {
  const read = async (): Promise<ShopSettings> => {
    const [row] = await dataSource.query<{ settings: TuneSettings; version: number }[]>('SELECT "settings", "version" FROM "shop"');
    // Version 0 says: nothing was said yet, and what is usual holds.
    return row ?? { settings: NEW_SHOP, version: 0 };
  };
  return {
    read,
    save: async ({ version, settings }) => {
      // The update is wrapped: TypeORM gives a bare UPDATE … RETURNING back as [rows, count], which is never empty.
      const rows = await dataSource.query<unknown[]>(
        version === 0
          ? 'INSERT INTO "shop" ("id", "settings", "version") VALUES (1, $1, $2 + 1) ON CONFLICT DO NOTHING RETURNING "version"'
          : 'WITH saved AS (UPDATE "shop" SET "settings" = $1, "version" = "version" + 1 WHERE "version" = $2 RETURNING "version") SELECT * FROM saved',
        [JSON.stringify(settings), version],
      );
      const now = await read();
      if (rows.length === 0) throw staleSave('The shop’s house rules', now);
      return now;
    },
  };
}
