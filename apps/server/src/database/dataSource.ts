import pg from 'pg';
import { DataSource } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { Foundations1700000000001 } from './migrations/1700000000001-foundations.ts';
import { MarkBasis1700000000002 } from './migrations/1700000000002-mark-basis.ts';
import { MarkValues1700000000003 } from './migrations/1700000000003-mark-values.ts';
import { Keys1700000000004 } from './migrations/1700000000004-keys.ts';
import { History1700000000007 } from './migrations/1700000000007-history.ts';
import { Handover1700000000008 } from './migrations/1700000000008-handover.ts';
import { Signatures1700000000009 } from './migrations/1700000000009-signatures.ts';
import { ClientTimes1700000000006 } from './migrations/1700000000006-client-times.ts';
import { Shop1700000000005 } from './migrations/1700000000005-shop.ts';

/** Any number that no other program on the same database uses; it only has to be the same for all servers of this one. */
const MIGRATION_LOCK = 46_200_001;

/** A database that is frozen is noticed: no statement of ours takes this long, storing a capture of the largest size included. */
const STATEMENT_MS = 60_000;

/**
 * A client of the pool that survives its database.
 *
 * A database that dies says so and then breaks the connection off: the pool hears the first word and lets the client go, and the second,
 * heard by nobody, would end the server. Whoever waits for a query is told by the query.
 */
class PoolClient extends pg.Client {
  constructor(config?: string | pg.ClientConfig) {
    super(config);
    this.on('error', () => undefined);
  }
}

/**
 * @param statementMs - 0: as long as it takes, for migrations
 * @param connections - at most so many at once
 */
export function newDataSource(databaseUrl: string, statementMs = STATEMENT_MS, connections = 16): DataSource {
  return new DataSource({
    type: 'postgres',
    url: databaseUrl,
    entities: ENTITIES,
    migrations: [
      Foundations1700000000001,
      MarkBasis1700000000002,
      MarkValues1700000000003,
      Keys1700000000004,
      Shop1700000000005,
      ClientTimes1700000000006,
      History1700000000007,
      Handover1700000000008,
      Signatures1700000000009,
    ],
    synchronize: false,
    installExtensions: false,
    // A stopped database refuses at once. This is how long a request waits for its turn at a busy one.
    connectTimeoutMS: 30_000,
    extra: {
      max: connections,
      // So many stay: opening one takes longer than storing a reading.
      min: Math.min(connections, 6),
      Client: PoolClient,
      keepAlive: true,
      ...(statementMs === 0 ? {} : { statement_timeout: statementMs, query_timeout: statementMs + 5_000 }),
    },
  });
}

/** Brings the schema up to date. Several servers may start at once: the lock lets one of them do it. */
export async function migrate(dataSource: DataSource): Promise<void> {
  const runner = dataSource.createQueryRunner();
  await runner.connect();
  try {
    await runner.query('SELECT pg_advisory_lock($1)', [MIGRATION_LOCK]);
    try {
      await dataSource.runMigrations({ transaction: 'all' });
    } finally {
      await runner.query('SELECT pg_advisory_unlock($1)', [MIGRATION_LOCK]);
    }
  } finally {
    await runner.release();
  }
}
