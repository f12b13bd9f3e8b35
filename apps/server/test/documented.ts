import { OPERATIONS, type Operation } from '@yield/contract';
import { validateBody } from '@yield/contract/validate';

/** An answer as whoever asked it has it. */
export interface Answered {
  method: string;
  /** without its query */
  path: string;
  status: number;
  type: string;
  /** parsed, where it is JSON */
  body: unknown;
}

const addresses = OPERATIONS.map((operation) => ({
  operation,
  // Written-out parts before what stands for any: "/tunes/archive" is no tune.
  wild: operation.path.split('{').length,
  pattern: new RegExp(`^/api/v1${operation.path.replace(/[.]/g, '\\.').replace(/\{\w+\}/g, '[^/]+')}$`),
})).sort((a, b) => a.wild - b.wild);

export const operationOf = ({ method, path }: Pick<Answered, 'method' | 'path'>): Operation | undefined =>
  addresses.find(({ operation, pattern }) => operation.method === method.toLowerCase() && pattern.test(path))?.operation;

/** What of an answer the document does not say; undefined where it says it all. */
export function undocumented(answered: Answered): string | undefined {
  const { method, path, status, type, body } = answered;
  if (!path.startsWith('/api/v1/') || method === 'HEAD' || status === 304) return undefined;
  const at = `${method} ${path} answered ${status}`;
  if (status >= 400) return type.startsWith('application/problem+json') ? undefined : `${at} as ${type || 'nothing'}, which is no problem`;
  const operation = operationOf(answered);
  if (operation === undefined) return `${at}, and no operation is there`;
  const said = operation.answers[status as 200];
  if (said === undefined) return `${at}; ${operation.id} says ${Object.keys(operation.answers).join(', ')}`;
  if (said === 'nothing') return undefined;
  if ('file' in said) return type.startsWith(said.file) ? undefined : `${at} as ${type}`;
  const validation = validateBody(said, body);
  return validation.kind === 'valid' ? undefined : `${at}: ${JSON.stringify(validation.faults.slice(0, 3))}`;
}
