import type { KnownKeys } from '@yield/contract';
import type { Provenance } from '@yield/sheet';
import type { DataSource } from 'typeorm';
import { alteredParts, fingerprintOf, newPrivateKey, signerFrom, type Signature, type Signer } from './signature.ts';

/** The installation's own key, and the names of others'. The key lies in the database: it is in every backup, and several servers share it. */
export interface Keys {
  signer: () => Promise<Signer>;
  /** by key */
  names: () => Promise<ReadonlyMap<string, string>>;
  list: () => Promise<KnownKeys>;
  /** an empty name takes it away */
  name: (key: string, name: string) => Promise<void>;
}

const signers = new WeakMap<object, Promise<Signer>>();

export function keysOf(dataSource: Pick<DataSource, 'query'>): Keys {
  const load = async (): Promise<Signer> => {
    // Two servers that start at once have one key: the first to store it.
    await dataSource.query('INSERT INTO "installation" ("id", "private_key") VALUES (1, $1) ON CONFLICT DO NOTHING', [newPrivateKey()]);
    const [row] = await dataSource.query<{ privateKey: string }[]>('SELECT "private_key" AS "privateKey" FROM "installation"');
    return signerFrom(row!.privateKey);
  };
  const signer = (): Promise<Signer> => {
    const known = signers.get(dataSource);
    if (known !== undefined) return known;
    const made = load();
    signers.set(dataSource, made);
    made.catch(() => signers.delete(dataSource));
    return made;
  };
  const names = async (): Promise<ReadonlyMap<string, string>> =>
    new Map(
      (await dataSource.query<{ key: string; name: string }[]>('SELECT "key", "name" FROM "known_key" ORDER BY "name"')).map(
        ({ key, name }) => [key, name] as const,
      ),
    );
  return {
    signer,
    names,
    list: async () => {
      const { key } = await signer();
      const known = [...(await names())].map(([each, name]) => ({ key: each, fingerprint: fingerprintOf(each), name }));
      return { own: { key, fingerprint: fingerprintOf(key) }, known };
    },
    name: async (key, name) => {
      if (name.trim() === '') await dataSource.query('DELETE FROM "known_key" WHERE "key" = $1', [key]);
      else
        await dataSource.query(
          'INSERT INTO "known_key" ("key", "name") VALUES ($1, $2) ON CONFLICT ("key") DO UPDATE SET "name" = EXCLUDED."name"',
          [key, name.trim()],
        );
    },
  };
}

/** Whose signature it is, and whether what was signed is what is there. */
export function provenanceOf(
  signature: Signature | null | undefined,
  parts: () => Record<string, unknown>,
  ownKey: string,
  names: ReadonlyMap<string, string>,
): Provenance {
  if (signature === null || signature === undefined) return { kind: 'unsigned' };
  const { key } = signature;
  const what = alteredParts(signature, parts());
  const name = names.get(key);
  const by = { key, fingerprint: fingerprintOf(key), ...(name === undefined ? {} : { name }) };
  if (what.length > 0) return { kind: 'altered', what, ...by };
  return { kind: key === ownKey ? 'here' : 'elsewhere', ...by };
}
