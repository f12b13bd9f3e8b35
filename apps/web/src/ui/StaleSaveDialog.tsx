import type { JSX } from 'react';
import { Dialog } from './Dialog.tsx';
import { differences } from './differences.ts';

interface Props {
  what: string;
  mine: object;
  theirs: object;
  /** what of it cannot be saved any more */
  lost?: string;
  onKeepMine: () => void;
  onTakeTheirs: () => void;
}

/** A save from another window came first: both sides, field by field, and the choice. */
export function StaleSaveDialog({ what, mine, theirs, lost, onKeepMine, onTakeTheirs }: Props): JSX.Element {
  const rows = differences(mine, theirs);
  return (
    <Dialog title={`${what} was changed in another window`} onClose={onTakeTheirs} wide>
      <p className="text-quiet">Nothing was overwritten. These fields differ:</p>
      {lost !== undefined && <p className="text-attention mt-2">{lost}</p>}
      <table className="mt-4 w-full text-left">
        <thead>
          <tr className="text-quiet border-line border-b text-sm">
            <th className="py-2 pr-4">Field</th>
            <th className="py-2 pr-4">Yours</th>
            <th className="py-2">Stored now</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ path, mine: own, theirs: other }) => (
            <tr key={path} className="border-line border-b align-top">
              <td className="text-quiet py-2 pr-4">{path}</td>
              <td className="py-2 pr-4 font-medium">{own}</td>
              <td className="py-2 font-medium">{other}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-6 flex flex-wrap gap-3">
        <button type="button" className="btn btn-primary btn-tall" onClick={onKeepMine}>
          Save mine over it
        </button>
        <button type="button" className="btn btn-tall" onClick={onTakeTheirs}>
          Keep what is stored
        </button>
      </div>
    </Dialog>
  );
}
