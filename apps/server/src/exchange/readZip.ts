import { createHash } from 'node:crypto';
import { CoreError } from '@yield/core';
import yauzl from 'yauzl';

/** One file of an archive. */
export interface ZipEntry {
  path: string;
  byteLength: number;
  /** its bytes, held against the hash that is told; @throws {CoreError} where they are others */
  read: (sha256?: string) => Promise<Buffer>;
}

export interface ZipLimits {
  entries: number;
  /** of one file, and of all together, unpacked */
  fileBytes: number;
  totalBytes: number;
}

/** Nothing that is packed honestly gets smaller than this: zeros do by a thousand. */
const MAX_RATIO = 1100;
const RATIO_FROM_BYTES = 1_000_000;

export const refusedZip = (message: string, pointer = ''): CoreError => new CoreError('INPUT_INVALID', [{ pointer, message }]);

/**
 * The files of a ZIP on disk by their place; none is unpacked before it is asked for.
 *
 * @returns the entries, and what closes the file again
 * @throws {CoreError} for what is no ZIP, a place outside of it, two files of one name, a file or an archive that unpacks beyond the limits
 */
export async function openZip(file: string, limits: ZipLimits): Promise<{ entries: Map<string, ZipEntry>; close: () => void }> {
  const zip = await opened(file);
  try {
    const entries = await listed(zip, limits);
    return { entries, close: () => zip.close() };
  } catch (error) {
    zip.close();
    throw error;
  }
}

const opened = (file: string): Promise<yauzl.ZipFile> =>
  new Promise((resolve, reject) => {
    yauzl.open(file, { lazyEntries: true, autoClose: false, validateEntrySizes: true, strictFileNames: true }, (error, zip) => {
      if (error === null) resolve(zip);
      else reject(refusedZip('This is no ZIP archive, or its end is missing. Save it from Yield again, and send it whole.'));
    });
  });

function listed(zip: yauzl.ZipFile, limits: ZipLimits): Promise<Map<string, ZipEntry>> {
  const entries = new Map<string, ZipEntry>();
  let total = 0;
  return new Promise((resolve, reject) => {
    zip.on('error', () => reject(refusedZip('The list of files in this archive is damaged, or names a place outside of it.')));
    zip.on('end', () => resolve(entries));
    zip.on('entry', (entry: yauzl.Entry) => {
      const fault = faultOf(entry, entries, limits);
      total += entry.uncompressedSize;
      if (fault !== undefined) reject(refusedZip(`${entry.fileName.slice(0, 120)}: ${fault}`));
      else if (total > limits.totalBytes)
        reject(refusedZip(`Unpacked, this archive has more than ${Math.round(limits.totalBytes / 1e6)} MB.`));
      else {
        if (!entry.fileName.endsWith('/')) entries.set(entry.fileName, entryOf(zip, entry));
        zip.readEntry();
      }
    });
    zip.readEntry();
  });
}

function faultOf(entry: yauzl.Entry, known: ReadonlyMap<string, ZipEntry>, limits: ZipLimits): string | undefined {
  const { fileName, uncompressedSize, compressedSize } = entry;
  if (known.size >= limits.entries) return `an archive holds ${limits.entries} files at most.`;
  if (known.has(fileName)) return 'two files of this name are in the archive.';
  if (entry.isEncrypted()) return 'it is encrypted.';
  if (uncompressedSize > limits.fileBytes)
    return `unpacked it has ${Math.round(uncompressedSize / 1e6)} MB, and ${Math.round(limits.fileBytes / 1e6)} MB are the most.`;
  if (uncompressedSize > RATIO_FROM_BYTES && uncompressedSize > MAX_RATIO * compressedSize)
    return 'it unpacks to more than a thousand times its size: nothing that was measured does.';
  return undefined;
}

function entryOf(zip: yauzl.ZipFile, entry: yauzl.Entry): ZipEntry {
  const path = entry.fileName;
  const read = (sha256?: string): Promise<Buffer> =>
    new Promise((resolve, reject) => {
      zip.openReadStream(entry, (error, stream) => {
        if (error !== null) {
          reject(refusedZip(`${path}: it cannot be unpacked.`));
          return;
        }
        const chunks: Buffer[] = [];
        const hash = createHash('sha256');
        stream.on('data', (chunk: Buffer) => {
          chunks.push(chunk);
          hash.update(chunk);
        });
        stream.on('error', () => reject(refusedZip(`${path}: its bytes are damaged. Save the archive again.`)));
        stream.on('end', () => {
          if (sha256 !== undefined && hash.digest('hex') !== sha256)
            reject(refusedZip(`${path}: it is not the file that the manifest names: its hash is another one.`));
          else resolve(Buffer.concat(chunks));
        });
      });
    });
  return { path, byteLength: entry.uncompressedSize, read };
}
