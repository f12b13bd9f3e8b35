import { RefreshCw } from 'lucide-react';
import { useEffect, useState, type JSX } from 'react';
import { registerSW } from 'virtual:pwa-register';

/** So often a window that stays open asks whether there is a newer version. */
const ASK_MS = 30 * 60_000;

/** Keeps the application in the browser, so that it opens without a server, and offers a newer version once one is there. */
export function NewVersion(): JSX.Element | null {
  const [take, setTake] = useState<(() => void) | null>(null);
  useEffect(() => {
    if (!('serviceWorker' in navigator)) return undefined;
    let timer: ReturnType<typeof setInterval> | undefined;
    const update = registerSW({
      // Drafts and what waits to be sent are kept: the reload loses nothing.
      onNeedRefresh: () => setTake(() => () => void update(true)),
      onRegisteredSW: (_url, registration) => {
        timer = setInterval(() => void registration?.update().catch(() => undefined), ASK_MS);
      },
    });
    return () => clearInterval(timer);
  }, []);
  if (take === null) return null;
  return (
    <button type="button" className="btn min-h-11" onClick={take}>
      <RefreshCw size={18} aria-hidden /> <span className="max-sm:sr-only">Take the new version</span>
    </button>
  );
}
