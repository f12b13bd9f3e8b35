import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import { GLOSSARY, termId } from './glossary.ts';

const PAGE = fileURLToPath(new URL('../../../docs/glossary.md', import.meta.url));

it('the glossary is in order, each term once, and stands in docs/glossary.md', async () => {
  const terms = GLOSSARY.map(({ term }) => term);
  expect(terms).toEqual([...terms].sort((a, b) => a.localeCompare(b, 'en')));
  expect(new Set(terms.map(termId)).size).toBe(terms.length);
  const page = `# Glossary

The terms that Yield uses, as the guide shows them. Written by a test from \`packages/words/src/glossary.ts\`: \`npx vitest run glossary -u\`.

${GLOSSARY.map(({ term, meaning }) => `**${term}** – ${meaning}`).join('\n\n')}
`;
  await expect(page).toMatchFileSnapshot(PAGE);
});
