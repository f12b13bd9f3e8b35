import type { JSX } from 'react';
import { Link } from 'react-router';

export function LostScreen(): JSX.Element {
  return (
    <main className="mx-auto max-w-xl px-6 py-20">
      <h1 className="text-2xl">Nothing is at this address</h1>
      <p className="text-quiet mt-2">The tune may have been deleted, or the address is incomplete.</p>
      <Link to="/" className="btn btn-primary btn-tall mt-6">
        To all tunes
      </Link>
    </main>
  );
}
