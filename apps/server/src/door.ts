import type { RequestHandler } from 'express';
import { Problem } from './problem.ts';
import { isLoopback, type ServerSettings } from './settings.ts';

/**
 * Who may speak: names that are ours, and pages that are ours.
 *
 * A name of somebody else's may be made to point to loopback, and a page of somebody else's may send forms and requests to it; a script
 * sends neither `Origin` nor `Sec-Fetch-Site`, and is let in.
 */
export function door({ host, hosts }: Pick<ServerSettings, 'host' | 'hosts'>): RequestHandler {
  const ours = new Set([...hosts, host.toLowerCase()]);
  return (request, _response, next) => {
    const asked = request.headers.host ?? '';
    const name = nameOf(asked);
    if (!isLoopback(name) && !ours.has(name)) {
      throw new Problem(
        'not-this-server',
        `This server does not answer to the name “${name.slice(0, 80)}”. Use its address, or add the name to YIELD_HOSTS.`,
      );
    }
    const isRead = request.method === 'GET' || request.method === 'HEAD' || request.method === 'OPTIONS';
    if (!isRead && !isFromUs(request.headers.origin, request.headers['sec-fetch-site'], asked)) {
      throw new Problem('another-page', 'This request came from a page that is not Yield’s own. Nothing was changed.');
    }
    const encoding = request.headers['content-encoding'];
    if (encoding !== undefined && encoding.toLowerCase() !== 'identity')
      throw new Problem('encoding-not-read', 'Send the body as it is, not compressed.');
    next();
  };
}

/** A host without its port: "[::1]:4620" is "[::1]". */
const nameOf = (host: string): string => host.toLowerCase().replace(/:\d*$/, '');

function isFromUs(origin: string | undefined, site: string | string[] | undefined, host: string): boolean {
  if (origin !== undefined) {
    const url = URL.canParse(origin) ? new URL(origin) : undefined;
    return url?.host === host.toLowerCase();
  }
  return site === undefined || site === 'same-origin' || site === 'none';
}
