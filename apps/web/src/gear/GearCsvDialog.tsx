import type { GearRow, SaveGear } from '@yield/contract';
import { GEAR_NAMES, readGearRows, type Gear } from '@yield/core';
import Papa from 'papaparse';
import { useMemo, useState, type JSX } from 'react';
import { newUuid } from '../api/newId.ts';
import { problemWords } from '../api/problem.ts';
import { useSaveGearMutation } from '../api/yieldApi.ts';
import { newId } from '../chain/chainFields.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { gearWords } from './gearWords.ts';

const SHOWN = 12;

/** What a list of gear would change in the library, before anything does. */
export function GearCsvDialog({ text, gear, onClose }: { text: string; gear: readonly GearRow[]; onClose: () => void }): JSX.Element {
  const [save] = useSaveGearMutation();
  const [fault, setFault] = useState<string>();
  const { rows, faults } = useMemo(() => {
    const { data } = Papa.parse<string[]>(text, { skipEmptyLines: false });
    const read = readGearRows(data, newId);
    return {
      rows: read.gear.map((each) => ({ next: each, known: gear.find((row) => row.kind === each.kind && row.name === each.body.name) })),
      faults: read.faults,
    };
  }, [text, gear]);
  // What stands in a tune with the same figures needs no place in the library.
  const changes = rows.filter(({ next, known }) => known === undefined || gearWords(known) !== gearWords(next));
  const take = async (): Promise<void> => {
    for (const { next, known } of changes) {
      const version = known?.version ?? 0;
      // What the table does not say of a known piece stays as it is.
      const body = known === undefined ? next.body : { ...known.body, ...withoutIds(next) };
      const result = await save({
        id: known !== undefined && version > 0 ? known.id : newUuid(),
        body: { version, kind: next.kind, body } as unknown as SaveGear,
      });
      if (result.error !== undefined) {
        setFault(`${next.body.name}: ${problemWords(result.error).text}`);
        return;
      }
    }
    onClose();
  };
  return (
    <Dialog title="Gear from CSV" onClose={onClose} wide>
      {faults.length > 0 ? (
        <ErrorNotice>
          <p className="font-medium">Nothing was taken.</p>
          {faults.slice(0, 8).map(({ message }) => (
            <p key={message}>{message}</p>
          ))}
          {faults.length > 8 && <p>{faults.length - 8} more lines are wrong.</p>}
        </ErrorNotice>
      ) : changes.length === 0 ? (
        <p>The library has all of it already, with the same figures.</p>
      ) : (
        <>
          <p className="mb-3">
            {changes.length === 1 ? 'One piece' : `${changes.length} pieces`} would come in or change; no tune changes.
          </p>
          <ul className="divide-line border-line divide-y border-y">
            {changes.slice(0, SHOWN).map(({ next, known }) => (
              <li key={`${next.kind} ${next.body.name}`} className="py-2">
                <p className="font-medium break-words">
                  {next.body.name}{' '}
                  <span className="text-quiet font-normal">
                    {GEAR_NAMES[next.kind]},{' '}
                    {known === undefined ? 'new' : known.version === 0 ? 'out of a tune, into the library' : 'changed'}
                  </span>
                </p>
                {known !== undefined && gearWords(known) !== gearWords(next) && (
                  <p className="text-quiet text-sm line-through">{gearWords(known)}</p>
                )}
                <p className="text-sm">{gearWords(next)}</p>
              </li>
            ))}
          </ul>
          {changes.length > SHOWN && <p className="text-quiet mt-1 text-sm">and {changes.length - SHOWN} more</p>}
          <button type="button" className="btn btn-primary btn-tall mt-4" onClick={() => void take()}>
            Take them
          </button>
        </>
      )}
      {fault !== undefined && (
        <div className="mt-3">
          <ErrorNotice>{fault}</ErrorNotice>
        </div>
      )}
    </Dialog>
  );
}

/** Figures alone: a known piece keeps its own id, inputs and outputs. */
function withoutIds({ kind, body }: Gear): object {
  if (kind === 'processor') return { outputVolt: body.outputVolt };
  const { id: _own, ...rest } = body as { id?: string };
  return rest;
}
