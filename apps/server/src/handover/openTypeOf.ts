import { inflateSync } from 'node:zlib';

const WOFF_HEADER = 44;
const WOFF_ENTRY = 20;
const SFNT_HEADER = 12;
const SFNT_ENTRY = 16;

/**
 * The OpenType font inside of a WOFF file. The PDF writer reads WOFF too, but inflates it by script, again for every document: two seconds.
 *
 * @see WOFF File Format 1.0, W3C Recommendation (2012), sections 3 to 5; OpenType specification, "Table directory"
 */
export function openTypeOf(woff: Buffer): Buffer {
  const count = woff.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, k) => {
    const at = WOFF_HEADER + k * WOFF_ENTRY;
    const [offset, packedLength, length] = [woff.readUInt32BE(at + 4), woff.readUInt32BE(at + 8), woff.readUInt32BE(at + 12)];
    const packed = woff.subarray(offset, offset + packedLength);
    // A table that would not become smaller is stored as it is.
    const bytes = packedLength < length ? inflateSync(packed) : packed;
    return { tag: woff.subarray(at, at + 4), checksum: woff.readUInt32BE(at + 16), bytes };
  });
  const head = Buffer.alloc(SFNT_HEADER + count * SFNT_ENTRY);
  woff.copy(head, 0, 4, 8);
  const largestPower = 2 ** Math.floor(Math.log2(count));
  head.writeUInt16BE(count, 4);
  head.writeUInt16BE(16 * largestPower, 6);
  head.writeUInt16BE(Math.log2(largestPower), 8);
  head.writeUInt16BE(16 * (count - largestPower), 10);
  let at = head.length;
  const parts: Buffer[] = [head];
  tables.forEach(({ tag, checksum, bytes }, k) => {
    const entry = SFNT_HEADER + k * SFNT_ENTRY;
    tag.copy(head, entry);
    head.writeUInt32BE(checksum, entry + 4);
    head.writeUInt32BE(at, entry + 8);
    head.writeUInt32BE(bytes.length, entry + 12);
    // Tables begin at multiples of four bytes.
    const padding = Buffer.alloc((4 - (bytes.length % 4)) % 4);
    parts.push(bytes, padding);
    at += bytes.length + padding.length;
  });
  return Buffer.concat(parts);
}
