import { createHash, createPrivateKey, createPublicKey, generateKeyPairSync, sign, verify, type KeyObject } from 'node:crypto';
import canonicalize from 'canonicalize';

/**
 * A signature over the hashes of several parts, so that what was altered can be told.
 *
 * @see RFC 8032, Ed25519; RFC 8785, the canonical form of JSON that is hashed
 */
export interface Signature {
  /** the public key: 32 bytes, base64url */
  key: string;
  /** SHA-256 of each part, hexadecimal */
  parts: Record<string, string>;
  /** over the canonical form of the parts, base64url */
  value: string;
}

/** Signs for one installation. */
export interface Signer {
  key: string;
  sign: (parts: Record<string, unknown>) => Signature;
}

/** SHA-256 of a value's canonical form, hexadecimal. */
export const hashOf = (value: unknown): string =>
  createHash('sha256')
    .update(canonical(value ?? null))
    .digest('hex');

/** As it will be read back: what JSON does not have is nothing there. */
function canonical(value: unknown): string {
  try {
    return canonicalize(value) ?? '';
  } catch {
    return canonicalize(JSON.parse(JSON.stringify(value))) ?? '';
  }
}

const hashesOf = (parts: Record<string, unknown>): Record<string, string> =>
  Object.fromEntries(Object.entries(parts).map(([name, value]) => [name, hashOf(value)]));

const signedText = (parts: Record<string, string>): Buffer => Buffer.from(canonicalize(parts) ?? '');

/** A private key as it is kept: PKCS #8, PEM. */
export const newPrivateKey = (): string => generateKeyPairSync('ed25519').privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();

export function signerFrom(privateKeyPem: string): Signer {
  const own = createPrivateKey(privateKeyPem);
  const key = rawKey(createPublicKey(own));
  return {
    key,
    sign: (parts) => {
      const hashes = hashesOf(parts);
      return { key, parts: hashes, value: sign(null, signedText(hashes), own).toString('base64url') };
    },
  };
}

const rawKey = (key: KeyObject): string => key.export({ format: 'jwk' }).x ?? '';

/**
 * What of it is no longer what was signed; empty where everything is.
 *
 * @param parts - as they are now
 * @returns names of parts; "signature" where the signature itself is not by its key
 */
export function alteredParts({ key, parts: signed, value }: Signature, parts: Record<string, unknown>): string[] {
  if (!isBy(key, signed, value)) return ['signature'];
  const now = hashesOf(parts);
  return [...new Set([...Object.keys(signed), ...Object.keys(now)])].filter((name) => signed[name] !== now[name]);
}

function isBy(key: string, parts: Record<string, string>, value: string): boolean {
  try {
    const publicKey = createPublicKey({ key: { kty: 'OKP', crv: 'Ed25519', x: key }, format: 'jwk' });
    return verify(null, signedText(parts), publicKey, Buffer.from(value, 'base64url'));
  } catch {
    return false;
  }
}

/** A key as people compare it: the first 16 digits of its hash, in fours. */
export const fingerprintOf = (key: string): string =>
  (createHash('sha256').update(Buffer.from(key, 'base64url')).digest('hex').slice(0, 16).toUpperCase().match(/.{4}/g) ?? []).join(' ');
