import type { BroughtIn } from '@yield/contract';
import { refusalOf } from '../api/problem.ts';

export interface Sending {
  done: Promise<{ rows: BroughtIn[] } | { faults: string[] } | 'cancelled'>;
  cancel: () => void;
}

/**
 * Sends an archive, and tells how far it is.
 *
 * @param onShare - 0 … 1; at 1 all is sent, and the server looks through it
 */
export function sendArchive(file: File, onShare: (share: number) => void): Sending {
  // What fetch sends, it does not tell of.
  const request = new XMLHttpRequest();
  const done = new Promise<Awaited<Sending['done']>>((resolve) => {
    request.upload.addEventListener('progress', ({ loaded, total }) => onShare(total === 0 ? 0 : loaded / total));
    request.upload.addEventListener('load', () => onShare(1));
    request.addEventListener('abort', () => resolve('cancelled'));
    request.addEventListener('error', () =>
      resolve({ faults: ['The server does not answer. The archive stays where it is: send it again later.'] }),
    );
    request.addEventListener('load', () => {
      if (request.status === 200) resolve({ rows: JSON.parse(request.responseText) as BroughtIn[] });
      else resolve({ faults: faultsOf(request) });
    });
  });
  request.open('POST', '/api/v1/import');
  request.setRequestHeader('Content-Type', 'application/zip');
  request.send(file);
  return { done, cancel: () => request.abort() };
}

function faultsOf({ status, responseText }: XMLHttpRequest): string[] {
  const { text, faults } = refusalOf(status, responseText);
  return faults.length === 0 ? [text] : faults.map(({ message, pointer }) => (pointer === '' ? message : `${pointer}: ${message}`));
}
