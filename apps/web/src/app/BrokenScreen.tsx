import type { JSX } from 'react';
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { saveFile } from '../ui/saveFile.ts';
import { LostScreen } from './LostScreen.tsx';

/** What somebody who mends it needs, as a file: nothing is sent anywhere. */
function saveReport(error: unknown): void {
  const { message, stack } = error instanceof Error ? error : new Error(String(error));
  const content = { view: window.location.pathname, at: new Date().toISOString(), message, stack, browser: navigator.userAgent };
  saveFile(`${JSON.stringify(content, null, 1)}\n`, 'yield-report.json', 'application/json');
}

/** A view that broke: it says so, and offers the ways back. What was entered is stored elsewhere and stays. */
export function BrokenScreen(): JSX.Element {
  const error = useRouteError();
  if (isRouteErrorResponse(error) && error.status === 404) return <LostScreen />;
  return (
    <main className="mx-auto max-w-xl px-6 py-20">
      <h1 className="text-2xl">This view broke</h1>
      <p className="text-quiet mt-2">
        Nothing that you entered is lost: readings are stored, and what was typed is kept in this browser. Open the view again; if it breaks
        again, another way in may still work.
      </p>
      <p className="border-line mt-4 border-l-2 pl-3 text-sm break-words">{error instanceof Error ? error.message : String(error)}</p>
      <div className="mt-6 flex flex-wrap gap-3">
        <button type="button" className="btn btn-primary btn-tall" onClick={() => window.location.reload()}>
          Open it again
        </button>
        <Link to=".." relative="path" className="btn btn-tall">
          One step back
        </Link>
        <button type="button" className="btn btn-tall" onClick={() => saveReport(error)}>
          Save a report
        </button>
        <Link to="/" className="btn btn-tall">
          To all tunes
        </Link>
      </div>
    </main>
  );
}
