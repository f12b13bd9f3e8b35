import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import { openApiDocument } from './openapi.ts';
import { problemType, PROBLEMS, type ProblemCode } from './problems.ts';

const PAGE = fileURLToPath(new URL('../../../docs/problems.md', import.meta.url));

it('every problem stands in docs/problems.md and in the OpenAPI document', async () => {
  const rows = (Object.keys(PROBLEMS) as ProblemCode[])
    .sort()
    .map((code) => `| \`${problemType(code)}\` | ${PROBLEMS[code].status} | ${PROBLEMS[code].title} |`);
  const page = `# Problems

What a request can be refused for, as \`application/problem+json\` (RFC 9457). Programs go by \`type\`; \`detail\` and the messages in
\`errors\` are for people. Written by a test from \`packages/contract/src/problems.ts\`: \`npx vitest run problems -u\`.

| Type | Status | Title |
| --- | --- | --- |
${rows.join('\n')}
`;
  await expect(page).toMatchFileSnapshot(PAGE);
  const { components } = openApiDocument() as { components: { schemas: { Problem: { properties: { type: { enum: string[] } } } } } };
  expect([...components.schemas.Problem.properties.type.enum].sort()).toEqual(
    (Object.keys(PROBLEMS) as ProblemCode[]).map(problemType).sort(),
  );
});
