import { useEffect } from 'react';

/** What the browser's tab says, as long as this is on the screen. */
export function useTitle(title: string | undefined): void {
  useEffect(() => {
    if (title === undefined) return undefined;
    const before = document.title;
    document.title = `${title} · Yield`;
    return () => {
      document.title = before;
    };
  }, [title]);
}
