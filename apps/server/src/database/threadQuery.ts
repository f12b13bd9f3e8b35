import pg from 'pg';

export type Query = <T>(sql: string, parameters?: unknown[]) => Promise<T>;

const STATEMENT_MS = 60_000;

/** A thread's own connection to the database. Not through TypeORM: reading that library takes longer than the work. */
export interface ThreadDatabase {
  query: Query;
  /** Runs on one state of the database, whatever is written meanwhile. */
  snapshot: <T>(work: (query: Query) => Promise<T>) => Promise<T>;
}

const known = new Map<string, ThreadDatabase>();

/** The same for the same URL: what is kept for a database is kept for as long as its thread lives. */
export function threadDatabase(databaseUrl: string): ThreadDatabase {
  const found = known.get(databaseUrl);
  if (found !== undefined) return found;
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 1, idleTimeoutMillis: 30_000, statement_timeout: STATEMENT_MS });
  // Whoever waits for a query is told by the query.
  pool.on('error', () => undefined);
  const on =
    (client: Pick<pg.Pool, 'query'>): Query =>
    async <T>(sql: string, parameters: unknown[] = []) =>
      (await client.query(sql, parameters)).rows as T;
  const made: ThreadDatabase = {
    query: on(pool),
    snapshot: async (work) => {
      const client = await pool.connect();
      let failure: Error | undefined;
      try {
        await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
        const result = await work(on(client));
        await client.query('COMMIT');
        return result;
      } catch (error) {
        failure = error instanceof Error ? error : new Error(String(error));
        throw error;
      } finally {
        // A connection that failed half-way is not used again.
        client.release(failure);
      }
    },
  };
  known.set(databaseUrl, made);
  return made;
}
