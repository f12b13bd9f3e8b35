import { OPERATIONS, type OperationId } from '@yield/contract';
import { Router, type RequestHandler } from 'express';

const operations = new Map(OPERATIONS.map((operation) => [operation.id, operation]));

/** A router whose routes are operations of the contract: one that the document does not name cannot be written. */
export interface OperationRouter {
  router: Router;
  /** Answers an operation, with the method and at the address that the contract gives it. */
  on: (id: OperationId, ...handlers: RequestHandler<Record<string, string>>[]) => void;
}

const routed = new WeakMap<Router, OperationId[]>();

/** @param below - the address that the router is mounted at, below /api/v1, as the contract writes it: "/tunes/{tuneId}/traces" */
export function operationRouter(below: string): OperationRouter {
  const router = Router({ mergeParams: true });
  const ids: OperationId[] = [];
  routed.set(router, ids);
  return {
    router,
    on: (id, ...handlers) => {
      const { method, path } = operations.get(id)!;
      if (!path.startsWith(below)) throw new Error(`${id} is not below ${below}`);
      const address = path.slice(below.length).replace(/\{(\w+)\}/g, ':$1');
      router[method](address === '' ? '/' : address, ...(handlers as RequestHandler[]));
      ids.push(id);
    },
  };
}

/** The operation at an address that has one only. */
export function operationAt(path: string): OperationId {
  const found = OPERATIONS.filter((operation) => operation.path === path);
  if (found.length !== 1) throw new Error(`the contract has ${found.length} operations at ${path}`);
  return found[0]!.id;
}

/** The operations that a router answers. */
export const operationsOf = (router: Router): readonly OperationId[] => routed.get(router) ?? [];
