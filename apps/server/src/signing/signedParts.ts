import { createHash } from 'node:crypto';
import type { SignedSheet, TuneFile } from '@yield/contract';
import { hashOf } from './signature.ts';

/** An operation as it is signed: without ids, which a copy of the tune has anew. */
type SignedOperation = Pick<TuneFile['operations'][number], 'kind' | 'body' | 'chainVersion' | 'change' | 'at' | 'clientAt' | 'who'>;

/** The history as a chain of hashes, each over the one before and the operation: one that is changed, left out or put in changes the last. */
export function historyHash(operations: readonly SignedOperation[], upTo = Infinity): string {
  let head = '';
  for (const { kind, body, chainVersion, change, at, clientAt, who } of operations) {
    if (change > upTo) continue;
    head = createHash('sha256')
      .update(head)
      .update(hashOf({ kind, body, chainVersion, change, at, clientAt: clientAt ?? null, who: who ?? null }))
      .digest('hex');
  }
  return head;
}

type Sheet = Pick<SignedSheet, 'issue' | 'signedBy' | 'signedAt' | 'leftOpen' | 'chainVersion' | 'changes' | 'sheet'>;

/** What the signature of a sheet stands for. Names of parts are told to people as they are. */
export const sheetParts = (
  { issue, signedBy, signedAt, leftOpen, chainVersion, changes, sheet }: Sheet,
  operations: readonly SignedOperation[],
): Record<string, unknown> => ({
  'what the sheet says': sheet,
  'name, date and words of the signature': { issue, signedBy, signedAt, leftOpen },
  'revision of the chain': { chainVersion, changes },
  'history before it': historyHash(operations, changes),
});

/** What the signature of an archived tune stands for. */
export const tuneParts = ({
  name,
  vehicle,
  settings,
  chain,
  revisions,
  readings,
  captures,
  marks,
  operations,
  sheets,
}: TuneFile): Record<string, unknown> => ({
  'name, vehicle and house rules': { name, vehicle, settings },
  chain: { chain, revisions },
  readings,
  captures,
  ticks: marks,
  history: historyHash(operations),
  'signed sheets': sheets,
});
