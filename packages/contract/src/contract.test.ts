import { Type } from 'typebox';
import { describe, expect, it } from 'vitest';
import { openApiDocument } from './openapi.ts';
import { OPERATIONS } from './operations.ts';
import { ACTIONS_MATCH_CORE } from './schemas/answers.ts';
import { HookupRequest, SagRequest, TraceQuery } from './schemas/calculations.ts';
import { ChainSchema, NewTuneSchema } from './schemas/records.ts';
import type { Same } from './schemas/same.ts';
import { validateBody, validateQuery, validateWith } from './validate.ts';

const faults = (schema: Parameters<typeof validateBody>[0], value: unknown): { pointer: string; message: string }[] => {
  const validation = validateBody(schema, value);
  return validation.kind === 'faulty' ? validation.faults : [];
};

it('knows every action of the core, and no other', () => {
  // A difference does not compile.
  expect(ACTIONS_MATCH_CORE).toBe(true);
});

describe('faults of a body', () => {
  it.each([
    ['a load of 0 ohm', { mode: 'stereo', loadOhm: 0 }, '/loadOhm', 'load must be above 0 ohm'],
    ['a word for a number', { mode: 'stereo', loadOhm: 'loud' }, '/loadOhm', 'load must be a number'],
    ['null', { mode: 'stereo', loadOhm: null }, '/loadOhm', 'load must be a number'],
    ['infinity', { mode: 'stereo', loadOhm: Infinity }, '/loadOhm', 'load must be a number'],
    ['a missing field', { mode: 'stereo' }, '/loadOhm', 'load is missing'],
    ['an unknown mode', { mode: 'tri', loadOhm: 4 }, '/mode', 'mode must be one of stereo, bridged, mono'],
    ['a misspelt field', { mode: 'stereo', loadOhm: 4, lodOhm: 4 }, '/lodOhm', '“lodOhm” is not a field here'],
    ['a list', [], '', 'must be an object'],
  ])('with %s stands at the field, in words', (_, value, pointer, message) => {
    expect(faults(HookupRequest, value)).toMatchObject([{ pointer, message: expect.stringContaining(message) as string }]);
  });

  it('are all reported together', () => {
    expect(
      faults(SagRequest, { unloadedVoltage: -1, loadedVoltage: 'x' })
        .map(({ pointer }) => pointer)
        .sort(),
    ).toEqual(['/loadOhm', '/loadedVoltage', '/unloadedVoltage']);
  });

  it('escape a pointer as RFC 6901 wants', () => {
    expect(faults(HookupRequest, { mode: 'stereo', loadOhm: 4, 'a/b~c': 1 })[0]!.pointer).toBe('/a~1b~0c');
  });

  it('lead into lists', () => {
    const chain = {
      source: { name: 'x', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
      amplifiers: [{ id: 'a', name: 'A', ratings: [{ mode: 'stereo', loadOhm: -4, powerWatt: 10 }] }],
      channels: [],
    };
    expect(faults(ChainSchema, chain)).toEqual([{ pointer: '/amplifiers/0/ratings/0/loadOhm', message: 'load must be above 0 ohm' }]);
  });

  it('refuse a blank name and a malformed id', () => {
    expect(
      faults(NewTuneSchema, { id: 'x', name: '  ', vehicle: '' })
        .map(({ pointer }) => pointer)
        .sort(),
    ).toEqual(['/id', '/name']);
  });

  it('are none for what is right', () => {
    expect(validateBody(HookupRequest, { mode: 'stereo', loadOhm: 4 })).toEqual({ kind: 'valid', value: { mode: 'stereo', loadOhm: 4 } });
  });
});

describe('query parameters', () => {
  it('turn text into numbers and refuse other text', () => {
    expect(validateQuery(TraceQuery, { toneHz: '50', probe: '10' })).toEqual({ kind: 'valid', value: { toneHz: 50, probe: 10 } });
    for (const bad of [
      { toneHz: 'x' },
      { toneHz: '' },
      { toneHz: '-1' },
      { toneHz: ['1', '2'] },
      { tone: '50' },
      { toneHz: '1e999' },
      { toneHz: 'Infinity' },
    ])
      expect(validateQuery(TraceQuery, bad).kind).toBe('faulty');
  });
  it('do not soften the bodies: "4" is no number there', () => {
    expect(validateBody(Type.Object({ loadOhm: Type.Number() }), { loadOhm: '4' }).kind).toBe('faulty');
  });
});

describe('the OpenAPI document', () => {
  it('holds every operation with its body and its problem answer', () => {
    const { paths } = openApiDocument() as {
      paths: Record<string, Record<string, { operationId: string; requestBody?: object; responses: object }>>;
    };
    const described = Object.values(paths).flatMap((methods) => Object.values(methods));
    expect(described.map(({ operationId }) => operationId).sort()).toEqual(OPERATIONS.map(({ id }) => id).sort());
    for (const operation of OPERATIONS) {
      const entry = paths[`/api/v1${operation.path}`]![operation.method]!;
      expect(entry.responses).toHaveProperty('default');
      if (operation.body !== undefined || operation.rawTypes !== undefined) expect(entry.requestBody).toBeDefined();
    }
  });
});

describe('the comparison of schemas with the core', () => {
  it('sees what one side alone has, required or not, however deep', () => {
    const seen: [
      Same<{ a: 1; b?: 2 }, { a: 1 }>,
      Same<{ a: 1 }, { a: 1; b?: 2 }>,
      Same<{ a: { b?: 1 }[] }, { a: { b: 1 }[] }>,
      Same<{ readonly a: readonly 1[] }, { a: 1[] }>,
    ] = [false, false, false, true];
    expect(seen).toHaveLength(4);
  });
});

describe('what only a calculation sees', () => {
  it('is looked for in a body of the right shape alone, whatever came before it', () => {
    const schema = Type.Object({ q: Type.Number({ exclusiveMinimum: 0 }), list: Type.Array(Type.Number()) });
    const further = ({ list }: { list: number[] }) => (list.length > 0 ? [] : [{ pointer: '/list', message: 'empty' }]);
    const pointers = (value: unknown): string[] => {
      const validation = validateWith(schema, further, value);
      return validation.kind === 'faulty' ? validation.faults.map(({ pointer }) => pointer) : [];
    };
    expect(pointers({ q: 0, list: [] })).toEqual(['/q', '/list']);
    // Refused before its shape is looked at: the faults of the body before say nothing of it.
    expect(pointers({ q: 1e-320 })).toEqual(['/q']);
    expect(pointers({ q: 1 })).toEqual(['/list']);
    expect(pointers({ q: 1, list: [1] })).toEqual([]);
  });
});
