// Archives altered at random: bytes of the ZIP, bytes of a file, figures and texts of the tune, with and without hashes made anew.
import { seededRandom } from './fuzz.mjs';
import { unzipped, withFiles, zipped } from './zipFiles.mjs';

/** So many are brought in before everything is looked at again. */
const LOOK_EVERY = 50;

/**
 * @param url - of a running server with the demo tunes
 * @returns { accepted, refused, faults }
 */
export async function damagedArchives(url, { seed, archives, onProgress = () => undefined }) {
  const random = seededRandom(seed);
  const below = (limit) => Math.floor(random() * limit);
  const result = { accepted: 0, refused: 0, faults: [] };
  const api = (path, options) => fetch(`${url}/api/v1${path}`, { signal: AbortSignal.timeout(60_000), ...options });
  const tunes = await (await api('/tunes')).json();
  const { id } = tunes.find(({ name }) => name === 'Camper trailer') ?? tunes[0];
  const whole = Buffer.from(await (await api(`/tunes/${id}/export.zip`)).arrayBuffer());
  const files = await unzipped(whole);
  const names = [...files.keys()];
  const brought = new Set();

  /** The archive, altered one way or another. */
  const altered = async () => {
    const way = below(4);
    if (way === 0) {
      const bytes = Buffer.from(whole);
      for (let k = 0; k <= below(6); k += 1) bytes[below(bytes.length)] = below(256);
      return bytes.subarray(0, random() < 0.3 ? below(bytes.length) : bytes.length);
    }
    const name = way === 1 ? names[below(names.length)] : names.find((each) => each.endsWith('/tune.json'));
    const content = Buffer.from(files.get(name));
    if (way < 3 && content.length > 0) for (let k = 0; k <= below(3); k += 1) content[below(content.length)] = 32 + below(95);
    let text = content;
    if (way === 3) {
      // A digit, or a word, becomes another one: it is still JSON.
      const figures = [...content.toString('utf8').matchAll(/-?\d+(\.\d+)?/g)];
      const { index, 0: old } = figures[below(figures.length)];
      const next = ['0', '-1', '1e9', '2147483647', '1e-320', String(Number(old) * 10 ** (below(9) - 4)), '[]'][below(7)];
      text = Buffer.from(`${content.toString('utf8').slice(0, index)}${next}${content.toString('utf8').slice(index + old.length)}`);
    }
    return random() < 0.5 ? withFiles(files, new Map([[name, text]])) : zipped(new Map([...files, [name, text]]));
  };

  async function lookAround() {
    const paths = [
      '/health',
      '/tunes',
      '/gear',
      ...[...brought].slice(-5).flatMap((each) => [`/tunes/${each}/run`, `/tunes/${each}/history`, `/tunes/${each}/sheets`]),
    ];
    for (const path of paths) {
      const response = await api(path).catch((error) => ({ status: 0, text: async () => String(error) }));
      if (response.status !== 200) result.faults.push(`${path} is ${response.status}: ${(await response.text()).slice(0, 200)}`);
      else await response.arrayBuffer();
    }
    for (const each of brought) await api(`/tunes/${each}`, { method: 'DELETE' });
    brought.clear();
  }

  for (let n = 0; n < archives; n += 1) {
    const bytes = await altered().catch(() => whole);
    const response = await api('/import', { method: 'POST', headers: { 'content-type': 'application/zip' }, body: bytes });
    const body = await response.json().catch(() => undefined);
    if (response.status >= 500) result.faults.push(`archive ${n}: ${response.status} ${JSON.stringify(body).slice(0, 200)}`);
    else if (response.status >= 400) result.refused += 1;
    else {
      result.accepted += 1;
      for (const row of body) if (tunes.every((tune) => tune.id !== row.id)) brought.add(row.id);
    }
    if (n % LOOK_EVERY === LOOK_EVERY - 1) await lookAround();
    if (n % 500 === 499) onProgress(n + 1);
  }
  await lookAround();
  return result;
}
