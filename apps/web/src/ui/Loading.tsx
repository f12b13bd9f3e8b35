import type { JSX } from 'react';

export function Loading({ what }: { what: string }): JSX.Element {
  return (
    <p role="status" className="text-quiet p-8">
      Fetching {what} …
    </p>
  );
}
