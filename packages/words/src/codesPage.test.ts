import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { expect, it } from 'vitest';
import { FINDINGS } from './findings/index.ts';

const SOURCE = new URL('../../core/src/findings/codes.ts', import.meta.url);
const PAGE = new URL('../../../docs/codes.md', import.meta.url);

interface Group {
  name: string;
  codes: { code: string; figures: string }[];
}

/** The table of codes as it is written, group by group. */
function groupsOf(text: string): Group[] {
  const file = ts.createSourceFile('codes.ts', text, ts.ScriptTarget.Latest, true);
  const shared = new Map<string, string>();
  const groups: Group[] = [];
  for (const statement of file.statements) {
    if (ts.isTypeAliasDeclaration(statement)) shared.set(statement.name.text, statement.type.getText());
    if (!ts.isInterfaceDeclaration(statement) || statement.name.text === 'FigureTable') continue;
    const codes = statement.members.filter(ts.isPropertySignature).map(({ name, type }) => {
      const told = type?.getText() ?? '';
      return { code: name.getText().replaceAll("'", ''), figures: shared.get(told) ?? told };
    });
    groups.push({ name: statement.name.text.replace(/Findings$/, ''), codes });
  }
  return groups;
}

const figuresCell = (figures: string): string =>
  figures.startsWith('Readonly<Record<string, never>>')
    ? ''
    : figures
        .replaceAll(/\s+/g, ' ')
        .replaceAll(/[{}]/g, '')
        .split(';')
        .map((figure) => figure.trim())
        .filter((figure) => figure !== '')
        .map((figure) => `\`${figure.replaceAll('|', '\\|')}\``)
        .join(', ');

function pageOf(groups: readonly Group[]): string {
  const sections = groups.map(({ name, codes }) => {
    const heading = name
      .replaceAll(/([A-Z])/g, ' $1')
      .trim()
      .toLowerCase();
    return [
      `## ${heading.charAt(0).toUpperCase()}${heading.slice(1)}`,
      '',
      '| Code | Figures |',
      '| --- | --- |',
      ...codes.map(({ code, figures }) => `| \`${code}\` | ${figuresCell(figures)} |`),
    ].join('\n');
  });
  return `# Codes of findings

What Yield finds is a code with figures: programs go by these, and words follow from them. Figures are in SI units by name
(\`differenceDb\`, \`targetVolt\`); a question mark stands for a figure that may be missing. Written by a test from
\`packages/core/src/findings/codes.ts\`: \`npx vitest run codesPage -u\`.

${sections.join('\n\n')}
`;
}

it('every code has its words and stands in docs/codes.md', async () => {
  const groups = groupsOf(readFileSync(SOURCE, 'utf8'));
  const codes = groups.flatMap(({ codes: own }) => own.map(({ code }) => code));
  expect([...codes].sort()).toEqual(Object.keys(FINDINGS).sort());
  await expect(pageOf(groups)).toMatchFileSnapshot(fileURLToPath(PAGE));
});
