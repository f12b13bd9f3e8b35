import { Type } from 'typebox';
import { problemType, PROBLEMS, type ProblemCode } from './problems.ts';
import { OPERATIONS, type Answer, type Operation } from './operations.ts';

const Problem = Type.Object({
  type: Type.String({ enum: (Object.keys(PROBLEMS) as ProblemCode[]).map(problemType) }),
  title: Type.String(),
  status: Type.Integer(),
  detail: Type.String(),
  errors: Type.Array(Type.Object({ pointer: Type.String(), message: Type.String() })),
});

/** The OpenAPI 3.1 document of the HTTP interface, made from the list of operations; a test of the server holds its routes to it. */
export function openApiDocument(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const operation of OPERATIONS) {
    paths[`/api/v1${operation.path}`] ??= {};
    paths[`/api/v1${operation.path}`]![operation.method] = describe(operation);
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Yield',
      version: '1',
      description:
        'Units are SI and part of the field name. Voltages and currents are RMS unless the name says peak. Faults are application/problem+json with a JSON Pointer for each.',
    },
    paths,
    components: { schemas: { Problem } },
  };
}

function describe(operation: Operation): object {
  const names = [...operation.path.matchAll(/\{(\w+)\}/g)].map((match) => match[1] ?? '');
  const query: { properties?: Record<string, object>; required?: string[] } | undefined = operation.query;
  const content = {
    ...(operation.body === undefined ? {} : { 'application/json': { schema: operation.body } }),
    ...Object.fromEntries((operation.rawTypes ?? []).map((type) => [type, { schema: { type: 'string', format: 'binary' } }])),
  };
  return {
    operationId: operation.id,
    summary: operation.summary,
    parameters: [
      ...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
      ...Object.entries(query?.properties ?? {}).map(([name, schema]) => ({
        name,
        in: 'query',
        required: query?.required?.includes(name) ?? false,
        schema,
      })),
    ],
    ...(Object.keys(content).length === 0 ? {} : { requestBody: { required: true, content } }),
    responses: {
      ...Object.fromEntries(Object.entries(operation.answers).map(([status, answer]) => [status, described(answer)])),
      default: { description: 'a problem', content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } } },
    },
  };
}

function described(answer: Answer): object {
  if (answer === 'nothing') return { description: 'done, with nothing to tell' };
  if ('file' in answer) return { description: 'a file', content: { [answer.file]: { schema: { type: 'string', format: 'binary' } } } };
  return { description: 'done', content: { 'application/json': { schema: answer } } };
}
