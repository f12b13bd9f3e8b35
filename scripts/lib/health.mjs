import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';

/** How often it is asked, in ms. */
const EVERY_MS = 50;

/**
 * Asks a server again and again how it is, from a thread of its own: the asker's own work is no part of the answer's time.
 *
 * @returns { end }: ends it, and gives the time that each answer took, in ms
 */
export function watchHealth(url) {
  const worker = new Worker(new URL(import.meta.url), { workerData: { url } });
  const told = new Promise((resolve, reject) => worker.once('message', resolve).once('error', reject));
  return {
    end: async () => {
      worker.postMessage('end');
      return await told;
    },
  };
}

async function ask({ url }) {
  const took = [];
  let isDone = false;
  parentPort.once('message', () => {
    isDone = true;
  });
  while (!isDone) {
    const began = performance.now();
    await fetch(`${url}/api/v1/health`)
      .then((response) => response.arrayBuffer())
      .then(
        () => took.push(performance.now() - began),
        () => took.push(Infinity),
      );
    await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
  }
  parentPort.postMessage(took);
}

if (!isMainThread && workerData?.url !== undefined) await ask(workerData);
