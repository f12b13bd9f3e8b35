import express, { type RequestHandler } from 'express';
import type { JsonThreads } from './jsonThreads.ts';
import { Problem } from '../problem.ts';

/** The bytes of a JSON body, and who reads them. */
export class JsonBody {
  readonly bytes: Uint8Array;
  readonly threads: JsonThreads;

  constructor(bytes: Uint8Array, threads: JsonThreads) {
    this.bytes = bytes;
    this.threads = threads;
  }
}

/**
 * Takes in a JSON body as bytes; `bodyOf` reads them once it is known what they should be.
 *
 * @throws {Problem} 413 over the limit, 415 for another set of characters than UTF-8
 */
export function jsonBody(limit: number, threads: JsonThreads): RequestHandler {
  const take = express.raw({ type: 'application/json', limit });
  return (request, response, next) => {
    const charset = /;\s*charset=([^;]+)/i
      .exec(request.headers['content-type'] ?? '')?.[1]
      ?.replaceAll('"', '')
      .trim()
      .toLowerCase();
    if (charset !== undefined && charset !== 'utf-8' && charset !== 'utf8' && charset !== 'us-ascii')
      throw new Problem('encoding-not-read', 'Send JSON as UTF-8.');
    take(request, response, (error?: unknown) => {
      if (Buffer.isBuffer(request.body) && isJson(request.headers['content-type'])) request.body = new JsonBody(request.body, threads);
      next(error);
    });
  };
}

const isJson = (type = ''): boolean => type.split(';')[0]!.trim().toLowerCase() === 'application/json';
