import path from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * Where the code of a thread lies: beside that of its starter.
 *
 * Run from its sources, a thread reads all of them when it begins, which takes seconds: tests may name the folder of the built
 * application in `YIELD_BUILT_SERVER` instead.
 *
 * @param url - of the thread's module, without its ending
 */
export function threadCode(url: URL): { filename: string; execArgv?: string[] } {
  const file = fileURLToPath(url);
  if (!import.meta.url.endsWith('.ts')) return { filename: `${file}.js` };
  const built = process.env.YIELD_BUILT_SERVER ?? '';
  return built === ''
    ? { filename: `${file}.ts`, execArgv: ['--import', 'tsx'] }
    : { filename: path.join(built, `${path.basename(file)}.js`) };
}
