import { expect, it } from 'vitest';
import { newUuid } from './newId.ts';

// RFC 9562, section 5.4: version 4 in the seventh byte, variant 10 in the ninth. Shuts out what the server refuses as no UUID.
it('makes UUIDs of version 4, none twice', () => {
  const made = Array.from({ length: 500 }, newUuid);
  for (const id of made) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(new Set(made).size).toBe(500);
});
