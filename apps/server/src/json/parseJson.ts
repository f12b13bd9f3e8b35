/** Bytes that are no JSON. */
export class NotJson extends Error {}

const utf8 = new TextDecoder('utf-8', { fatal: true });

/** JSON as it is sent: UTF-8. An empty body is an empty object. @throws {NotJson} with the reason in words */
export function parseJson(bytes: Uint8Array): unknown {
  if (bytes.length === 0) return {};
  let text: string;
  try {
    text = utf8.decode(bytes);
  } catch {
    throw new NotJson('The body is not UTF-8.');
  }
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new NotJson('The body is not valid JSON.');
  }
}
