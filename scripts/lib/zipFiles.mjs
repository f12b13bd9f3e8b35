import { createHash } from 'node:crypto';
import yauzl from 'yauzl';
import yazl from 'yazl';

/** The files of a ZIP in memory, by their place. */
export const unzipped = (bytes) =>
  new Promise((resolve, reject) => {
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, zip) => {
      if (error) return reject(error);
      const files = new Map();
      zip.on('error', reject);
      zip.on('end', () => resolve(files));
      zip.on('entry', (entry) => {
        zip.openReadStream(entry, (failed, stream) => {
          if (failed) return reject(failed);
          const chunks = [];
          stream.on('data', (chunk) => chunks.push(chunk));
          stream.on('error', reject);
          stream.on('end', () => {
            files.set(entry.fileName, Buffer.concat(chunks));
            zip.readEntry();
          });
        });
      });
      zip.readEntry();
    });
  });

/** @param files - Map of place to bytes; @returns the ZIP */
export async function zipped(files) {
  const zip = new yazl.ZipFile();
  for (const [name, bytes] of files) zip.addBuffer(Buffer.from(bytes), name);
  zip.end();
  const chunks = [];
  for await (const chunk of zip.outputStream) chunks.push(chunk);
  return Buffer.concat(chunks);
}

/** The same archive with other files in it, and a manifest that names their hashes. @param changed - Map of place to bytes */
export async function withFiles(files, changed) {
  const all = new Map([...files, ...changed]);
  const manifest = JSON.parse(all.get('manifest.json').toString('utf8'));
  for (const file of manifest.files) {
    const bytes = Buffer.from(all.get(file.path) ?? '');
    file.sha256 = createHash('sha256').update(bytes).digest('hex');
    file.byteLength = bytes.length;
  }
  if (!changed.has('manifest.json')) all.set('manifest.json', Buffer.from(`${JSON.stringify(manifest, null, 1)}\n`));
  return zipped(all);
}
