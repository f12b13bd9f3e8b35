export interface ServerSettings {
  port: number;
  host: string;
  databaseUrl: string;
  /** largest JSON body, in bytes */
  jsonLimitBytes: number;
  /** largest capture that comes as JSON, in bytes: it is read as one piece */
  traceJsonLimitBytes: number;
  /** names under which the server may be asked for, besides those of this machine's loopback */
  hosts: readonly string[];
  /** largest capture, in bytes */
  traceLimitBytes: number;
  /** largest archive that is brought in, in bytes */
  importLimitBytes: number;
  /** folder of the built web application; undefined: the interface alone is served */
  webFolder?: string;
}

const MEGABYTE = 1_000_000;

/** Settings from the environment. @throws {Error} that names the variable at fault */
export function readSettings(env: NodeJS.ProcessEnv): ServerSettings {
  const databaseUrl = env.DATABASE_URL;
  if (databaseUrl === undefined || databaseUrl === '') {
    throw new Error('DATABASE_URL is not set. "npm start" sets it to the private database; set it yourself to use another one.');
  }
  return {
    port: numberFrom(env, 'PORT', 4620, 0, 65535),
    host: hostFrom(env),
    hosts: listFrom(env.YIELD_HOSTS),
    databaseUrl,
    jsonLimitBytes: numberFrom(env, 'YIELD_JSON_LIMIT_MB', 1, 0.001, 100) * MEGABYTE,
    traceJsonLimitBytes: numberFrom(env, 'YIELD_TRACE_JSON_LIMIT_MB', 32, 0.001, 256) * MEGABYTE,
    importLimitBytes: numberFrom(env, 'YIELD_IMPORT_LIMIT_MB', 2000, 0.001, 20_000) * MEGABYTE,
    traceLimitBytes: numberFrom(env, 'YIELD_TRACE_LIMIT_MB', 256, 0.001, 900) * MEGABYTE,
    ...(env.YIELD_WEB_FOLDER === undefined ? {} : { webFolder: env.YIELD_WEB_FOLDER }),
  };
}

const LOOPBACK = /^(localhost|127(\.\d{1,3}){3}|::1|\[::1\])$/i;

/** Whether a name or address, without a port, is this machine's loopback. */
export const isLoopback = (host: string): boolean => LOOPBACK.test(host);

/** An empty address means loopback; any other one has to be wanted, since there are no accounts. */
function hostFrom({ HOST = '', YIELD_ALLOW_EXPOSED }: NodeJS.ProcessEnv): string {
  const host = HOST.trim() === '' ? '127.0.0.1' : HOST.trim();
  if (isLoopback(host) || YIELD_ALLOW_EXPOSED === '1') return host;
  throw new Error(
    `HOST is “${host}”, which others on the network can reach, and Yield has no accounts: anyone who can reach it can read and change everything. Leave HOST empty, or set YIELD_ALLOW_EXPOSED=1 as well if that is what you want.`,
  );
}

const listFrom = (text = ''): string[] =>
  text
    .split(',')
    .map((each) => each.trim().toLowerCase())
    .filter((each) => each !== '');

function numberFrom(env: NodeJS.ProcessEnv, name: string, fallback: number, least: number, most: number): number {
  const text = env[name];
  if (text === undefined || text === '') return fallback;
  const value = Number(text);
  if (!Number.isFinite(value) || value < least || value > most)
    throw new Error(`${name} must be a number from ${least} to ${most}, and is “${text}”`);
  return value;
}
