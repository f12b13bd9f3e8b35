import type { Action, Channel } from '@yield/core';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';

interface Props {
  run: TuneRun;
  action: Extract<Action, { kind: 'take-winding' }>;
  /** what is agreed to */
  words: string;
}

/** What the meter says of the coils is entered in the chain. */
export function TakeWinding({ run, action, words }: Props): JSX.Element {
  const { chain } = run.tune;
  const { edit } = useEditChain(run.tune);
  const [fault, setFault] = useState<string | null>(null);
  const take = async (): Promise<void> => {
    const channels = chain.body.channels.map((channel) =>
      channel.id === action.channelId ? { ...channel, ...(action.channel as Partial<Channel>) } : channel,
    );
    setFault((await edit({ ...chain.body, channels }))[0]?.message ?? null);
  };
  return (
    <>
      <button type="button" className="btn btn-primary btn-tall" onClick={() => void take()}>
        {words}
      </button>
      {fault !== null && <ErrorNotice>{fault}</ErrorNotice>}
    </>
  );
}
