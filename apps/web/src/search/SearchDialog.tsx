import { useDeferredValue, useId, useMemo, useState, type JSX } from 'react';
import { useMatch, useNavigate } from 'react-router';
import { useListGearQuery, useListTunesQuery } from '../api/yieldApi.ts';
import { useFirstRun } from '../firstRun/useFirstRun.ts';
import { benchToggled } from '../store/benchSlice.ts';
import { useAppDispatch } from '../store/store.ts';
import { useTuneRun, type TuneRun } from '../tune/useTuneRun.ts';
import { useVoid } from '../tune/useVoid.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { finderOf, type Found } from './finder.ts';
import { gearItems, generalItems, guideItems, runItems, tuneItems } from './items.ts';

const MAX_TUNES = 500;

/** Anything by a few letters: tunes, gear, steps, readings, captures, the guide, and what can be done. */
export default function SearchDialog({ onClose }: { onClose: () => void }): JSX.Element {
  const tuneId = useMatch('/tunes/:tuneId/*')?.params.tuneId;
  return tuneId === undefined ? <Finder tuneId="" run={null} onClose={onClose} /> : <OnTune tuneId={tuneId} onClose={onClose} />;
}

const OnTune = ({ tuneId, onClose }: { tuneId: string; onClose: () => void }): JSX.Element => (
  <Finder tuneId={tuneId} run={useTuneRun(tuneId)} onClose={onClose} />
);

function Finder({ tuneId, run, onClose }: { tuneId: string; run: TuneRun | null; onClose: () => void }): JSX.Element {
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const voidIt = useVoid(tuneId);
  const { begin } = useFirstRun();
  const { data: tunes } = useListTunesQuery({ limit: MAX_TUNES });
  const { data: gear } = useListGearQuery();
  const [text, setText] = useState('');
  const sought = useDeferredValue(text);
  const [chosen, setChosen] = useState(0);
  const id = useId();
  const find = useMemo(
    () =>
      finderOf([
        ...(run === null ? [] : runItems(run, { toggleBench: () => dispatch(benchToggled()), voidIt })),
        ...generalItems(),
        {
          id: 'do/first',
          kind: 'do',
          title: 'First run',
          words: 'from an ohmmeter to a proved gain on the simulated bench, five minutes',
          run: () => void begin(),
          rank: 30,
        },
        ...tuneItems(tunes?.rows ?? []),
        ...gearItems(gear ?? []),
        ...guideItems(),
      ]),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what voids and begins is made anew with every drawing, and does the same
    [run, tunes, gear, dispatch],
  );
  const found = find(sought);
  const at = Math.min(chosen, found.length - 1);
  const take = (item: Found | undefined): void => {
    if (item === undefined) return;
    onClose();
    if ('to' in item) void navigate(item.to);
    else item.run();
  };
  return (
    <Dialog title="Find anything" onClose={onClose} wide>
      <input
        data-first-field=""
        className="input min-h-12 w-full text-lg"
        role="combobox"
        aria-expanded
        aria-controls={id}
        aria-activedescendant={at < 0 ? undefined : `${id}-${at}`}
        aria-label="Find anything"
        autoComplete="off"
        placeholder="A tune, a step, a figure, gear, what to do"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setChosen(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setChosen(Math.min(found.length - 1, at + 1));
          else if (event.key === 'ArrowUp') setChosen(Math.max(0, at - 1));
          else if (event.key === 'Enter') take(found[at]);
          else return;
          event.preventDefault();
        }}
      />
      <ul id={id} role="listbox" aria-label="Found" className="mt-3 min-h-40">
        {found.map((item, k) => (
          <li
            key={item.id}
            id={`${id}-${k}`}
            role="option"
            aria-selected={k === at}
            className={`flex min-h-11 cursor-pointer items-center gap-3 rounded-md px-3 py-1.5 ${k === at ? 'bg-raised outline-action outline-2 -outline-offset-2' : ''}`}
            onClick={() => take(item)}
            onPointerMove={() => setChosen(k)}
          >
            <span className="text-quiet w-20 shrink-0 text-sm">{item.kind}</span>
            <span className="min-w-0">
              <span className="block truncate font-medium">{item.title}</span>
              {item.words !== '' && <span className="text-quiet block truncate text-sm">{item.words}</span>}
            </span>
          </li>
        ))}
      </ul>
      {found.length === 0 && <p className="text-quiet">No match.</p>}
      <p className="text-quiet mt-2 text-sm" role="status">
        {found.length === 0 ? '' : 'Arrows choose, Enter opens.'}
      </p>
    </Dialog>
  );
}
