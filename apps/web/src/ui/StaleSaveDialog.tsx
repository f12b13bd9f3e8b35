import type { JSX } from 'react';
import { yieldApi } from '../api/yieldApi.ts';
import { useAppDispatch } from '../store/store.ts';
import { Dialog } from './Dialog.tsx';
import { differences } from './differences.ts';

interface Props {
  what: string;
  mine: object;
  theirs: object;
  tuneId: string;
  onKeepMine: () => void;
  onTakeTheirs: () => void;
}

/** A save from another window came first: both sides, field by field, and the choice. */
export function StaleSaveDialog({ what, mine, theirs, tuneId, onKeepMine, onTakeTheirs }: Props): JSX.Element {
  const dispatch = useAppDispatch();
  const rows = differences(mine, theirs);
  const take = (): void => {
    dispatch(yieldApi.util.invalidateTags([{ type: 'tune', id: tuneId }]));
    onTakeTheirs();
  };
  return (
    <Dialog title={`${what} was changed in another window`} onClose={take} wide>
      <p className="text-quiet">Nothing was overwritten. These fields differ:</p>
      <table className="mt-4 w-full text-left">
        <thead>
          <tr className="label border-line border-b">
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
        <button type="button" className="btn btn-tall" onClick={take}>
          Keep what is stored
        </button>
      </div>
    </Dialog>
  );
}
