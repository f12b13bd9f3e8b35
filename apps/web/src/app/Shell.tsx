import { ArrowLeft, AudioLines, Keyboard, Moon, Search, Spline, Sun } from 'lucide-react';
import { lazy, Suspense, useEffect, useState, type JSX } from 'react';
import { Link, NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { useKept } from '../ui/useKept.ts';
import { useKeys } from '../ui/useKeys.ts';
import { NewVersion } from './NewVersion.tsx';
import { OutboxStatus } from './OutboxStatus.tsx';
import { useTheme } from '../ui/useTheme.ts';

// Asked for now and then: neither comes with the first screen.
const KeyHelp = lazy(async () => ({ default: (await import('./KeyHelp.tsx')).KeyHelp }));
const SearchDialog = lazy(() => import('../search/SearchDialog.tsx'));

/** The bar above every screen: where we are, what is not sent yet, theme and keys. */
export function Shell(): JSX.Element {
  const { theme, toggle } = useTheme();
  const [helpOpen, setHelpOpen] = useState(false);
  const [searchOpen, setSearchOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    // From within a field too: nothing that is typed begins with Ctrl+K.
    const onKey = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() !== 'k' || (!event.ctrlKey && !event.metaKey) || event.altKey || event.shiftKey) return;
      event.preventDefault();
      setSearchOpen(true);
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, []);
  useKeys({
    '?': () => setHelpOpen(true),
    h: () => void navigate('/'),
    l: () => void navigate('/loads'),
    o: () => void navigate('/tones'),
  });
  return (
    <div className="flex min-h-dvh flex-col">
      <header className="print:hidden border-line bg-ground sticky top-0 z-20 flex h-14 shrink-0 items-center gap-3 border-b px-4">
        <Link to="/" className="flex min-h-11 items-center gap-2.5 font-semibold">
          <HouseMark />
          <span className="text-lg max-sm:sr-only">Yield</span>
        </Link>
        <div id="place" className="min-w-0 flex-1">
          <LastTune />
        </div>
        <NewVersion />
        <OutboxStatus />
        <button
          type="button"
          className="btn btn-ghost btn-square"
          onClick={() => setSearchOpen(true)}
          aria-label="Find anything"
          title="Find anything (Ctrl+K)"
        >
          <Search size={20} aria-hidden />
        </button>
        <Tool to="/tones" name="Test tones" icon={<AudioLines size={20} aria-hidden />} />
        <Tool to="/loads" name="Load planner" icon={<Spline size={20} aria-hidden />} />
        <button
          type="button"
          className="btn btn-ghost btn-square"
          onClick={toggle}
          aria-label={theme === 'daylight' ? 'Change to the garage theme (dark)' : 'Change to the daylight theme (light)'}
        >
          {theme === 'daylight' ? <Moon size={20} aria-hidden /> : <Sun size={20} aria-hidden />}
        </button>
        <button type="button" className="btn btn-ghost btn-square max-sm:hidden" onClick={() => setHelpOpen(true)} aria-label="Keys">
          <Keyboard size={20} aria-hidden />
        </button>
      </header>
      {!window.isSecureContext && <PlainPageNote />}
      <Outlet />
      <Suspense>
        {helpOpen && <KeyHelp onClose={() => setHelpOpen(false)} />}
        {searchOpen && <SearchDialog onClose={() => setSearchOpen(false)} />}
      </Suspense>
    </div>
  );
}

/** A page of another machine that comes unencrypted: the browser keeps some things from it, whatever Yield does. */
const PlainPageNote = (): JSX.Element => (
  <p className="text-quiet border-line border-b px-4 py-1 text-sm print:hidden" role="note">
    This page is not encrypted, so the browser offers it no live audio input and no views without the network. Everything else works; for
    these open Yield on the machine that it runs on.
  </p>
);

/** On a tool's screen: the way back to the tune that was at hand. */
function LastTune(): JSX.Element | null {
  const { pathname } = useLocation();
  const [kept] = useKept('last-tune', (value) => (isPair(value) ? value : undefined));
  if (kept === undefined || pathname === '/' || pathname.startsWith('/tunes/')) return null;
  const [id, name] = kept;
  return (
    <Link to={`/tunes/${id}/run`} className="text-action flex min-h-11 min-w-0 items-center gap-1.5 font-medium">
      <ArrowLeft size={16} aria-hidden className="shrink-0" /> <span className="truncate">Back to {name}</span>
    </Link>
  );
}

const isPair = (value: unknown): value is [string, string] =>
  Array.isArray(value) && value.length === 2 && value.every((each) => typeof each === 'string');

/** A tool that needs no tune. */
function Tool({ to, name, icon }: { to: string; name: string; icon: JSX.Element }): JSX.Element {
  return (
    <NavLink to={to} className={({ isActive }) => `btn btn-ghost gap-2 font-medium ${isActive ? 'text-action' : ''}`} aria-label={name}>
      {icon} <span className="max-md:hidden">{name}</span>
    </NavLink>
  );
}

/** The downward triangle over its line: a level held under its ceiling. */
function HouseMark(): JSX.Element {
  return (
    <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden>
      <path d="M4 5h24L16 21z" fill="var(--action)" />
      <rect x="4" y="25" width="24" height="3" rx="1" fill="var(--action)" />
    </svg>
  );
}
