import { useCallback, useSyncExternalStore } from 'react';

export type Theme = 'daylight' | 'garage';

const listeners = new Set<() => void>();

/** The theme stands on the page itself, where theme.js put it before the first paint. */
export function useTheme(): { theme: Theme; toggle: () => void } {
  const theme = useSyncExternalStore(subscribe, currentTheme);
  const toggle = useCallback(() => {
    const next: Theme = currentTheme() === 'daylight' ? 'garage' : 'daylight';
    document.documentElement.dataset.theme = next;
    try {
      localStorage.setItem('yield.theme', next);
    } catch {
      // not kept: the theme lasts for this visit
    }
    listeners.forEach((listener) => listener());
  }, []);
  return { theme, toggle };
}

const currentTheme = (): Theme => (document.documentElement.dataset.theme === 'garage' ? 'garage' : 'daylight');

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
