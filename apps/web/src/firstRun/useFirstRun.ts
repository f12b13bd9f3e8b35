import { useState } from 'react';
import { useNavigate } from 'react-router';
import { newUuid } from '../api/newId.ts';
import { problemWords } from '../api/problem.ts';
import { useCreateTuneMutation, useSaveChainMutation, useSaveTuneMutation } from '../api/yieldApi.ts';
import { useDraft } from '../ui/useDraft.ts';
import { FIRST_CHAIN } from './firstChain.ts';

/** Which tune is the first run, and when it began: kept in this browser until the run is done or left. */
export interface FirstRunNow {
  tuneId: string;
  beganAt: number;
}

export function useFirstRunNow(): [FirstRunNow | undefined, (now: FirstRunNow | undefined) => void] {
  const [text, setText] = useDraft('first-run');
  const [tuneId, began] = text.split(' ');
  const beganAt = Number(began);
  const now = tuneId === undefined || !(beganAt > 0) ? undefined : { tuneId, beganAt };
  return [now, (next) => setText(next === undefined ? null : `${next.tuneId} ${next.beganAt}`)];
}

/** Makes a tune to practise on and opens its run. */
export function useFirstRun(): { begin: () => Promise<void>; isBusy: boolean; fault: string | undefined } {
  const [create] = useCreateTuneMutation();
  const [saveTune] = useSaveTuneMutation();
  const [saveChain] = useSaveChainMutation();
  const [, setNow] = useFirstRunNow();
  const [isBusy, setBusy] = useState(false);
  const [fault, setFault] = useState<string>();
  const navigate = useNavigate();
  const make = async (): Promise<string | undefined> => {
    const id = newUuid();
    const head = { name: 'First run', vehicle: 'A car that is not there' };
    const made = await create({ id, ...head });
    if (made.error !== undefined) return problemWords(made.error).text;
    const { version, settings, chain } = made.data;
    const kept = await saveTune({ id, body: { ...head, version, settings: { ...settings, isPractice: true } } });
    if (kept.error !== undefined) return problemWords(kept.error).text;
    const saved = await saveChain({ id, version: chain.version, chain: FIRST_CHAIN });
    if (saved.error !== undefined) return problemWords(saved.error).text;
    setNow({ tuneId: id, beganAt: Date.now() });
    await navigate(`/tunes/${id}/run`);
    return undefined;
  };
  const begin = async (): Promise<void> => {
    setBusy(true);
    setFault(await make());
    setBusy(false);
  };
  return { begin, isBusy, fault };
}
