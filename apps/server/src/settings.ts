export interface ServerSettings {
  port: number;
  host: string;
  databaseUrl: string;
  /** largest JSON body, in bytes */
  jsonLimitBytes: number;
  /** largest capture, in bytes */
  traceLimitBytes: number;
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
    host: env.HOST ?? '127.0.0.1',
    databaseUrl,
    jsonLimitBytes: numberFrom(env, 'YIELD_JSON_LIMIT_MB', 1, 0.001, 100) * MEGABYTE,
    traceLimitBytes: numberFrom(env, 'YIELD_TRACE_LIMIT_MB', 256, 0.001, 900) * MEGABYTE,
    ...(env.YIELD_WEB_FOLDER === undefined ? {} : { webFolder: env.YIELD_WEB_FOLDER }),
  };
}

function numberFrom(env: NodeJS.ProcessEnv, name: string, fallback: number, least: number, most: number): number {
  const text = env[name];
  if (text === undefined || text === '') return fallback;
  const value = Number(text);
  if (!Number.isFinite(value) || value < least || value > most)
    throw new Error(`${name} must be a number from ${least} to ${most}, and is “${text}”`);
  return value;
}
