import { readFileSync } from 'node:fs';
import { ASKS } from '@yield/core';
import ts from 'typescript';
import { expect, it } from 'vitest';

const PAGE = readFileSync(new URL('../../../docs/actions.md', import.meta.url), 'utf8');
const SOURCE = readFileSync(new URL('../../core/src/findings.ts', import.meta.url), 'utf8');

/** The kinds of action as they are written. */
function kindsOf(text: string): string[] {
  const file = ts.createSourceFile('findings.ts', text, ts.ScriptTarget.Latest, true);
  const action = file.statements.find((each) => ts.isTypeAliasDeclaration(each) && each.name.text === 'Action')!;
  const kinds = new Set<string>();
  const visit = (node: ts.Node): void => {
    if (ts.isPropertySignature(node) && node.name.getText() === 'kind')
      for (const [, kind] of (node.type?.getText() ?? '').matchAll(/'([a-z-]+)'/g)) kinds.add(kind!);
    ts.forEachChild(node, visit);
  };
  visit(action);
  return [...kinds];
}

it('every action, and everything that one may ask for, stands in docs/actions.md', () => {
  const kinds = kindsOf(SOURCE);
  expect(kinds.length).toBeGreaterThan(10);
  const [moves = '', asks = ''] = PAGE.split('## What `describe` asks for');
  expect(kinds.filter((kind) => !moves.includes(`\`${kind}\``))).toEqual([]);
  expect(ASKS.filter((what) => !asks.includes(`\`${what}\``))).toEqual([]);
});
