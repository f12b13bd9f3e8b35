import { formatQuantity, type ChannelNow } from '@yield/core';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';

/** Where the house's tone lies in a filter's way: one press gives the channel a tone of its own, and one takes it back. */
export function OwnTone({ run, step }: { run: TuneRun; step: ChannelNow }): JSX.Element | null {
  const { chain } = run.tune;
  const { edit } = useEditChain(run.tune);
  const [fault, setFault] = useState<string | null>(null);
  const { betterHz } = step.loss;
  if (betterHz === undefined && step.channel.toneHz === undefined) return null;
  const take = async (toneHz: number | undefined): Promise<void> => {
    const channels = chain.body.channels.map((channel) => {
      if (channel.id !== step.channel.id) return channel;
      const { toneHz: _before, ...rest } = channel;
      return toneHz === undefined ? rest : { ...rest, toneHz };
    });
    setFault((await edit({ ...chain.body, channels }))[0]?.message ?? null);
  };
  return (
    <div className="flex flex-wrap items-center gap-3">
      {betterHz !== undefined && (
        <button type="button" className="btn btn-tall" onClick={() => void take(betterHz)}>
          Use {formatQuantity(betterHz, 'Hz')} for this channel
        </button>
      )}
      {step.channel.toneHz !== undefined && (
        <button type="button" className="btn btn-ghost text-action" onClick={() => void take(undefined)}>
          Back to the house’s tone
        </button>
      )}
      {fault !== null && (
        <span role="alert" className="text-stop">
          {fault}
        </span>
      )}
    </div>
  );
}
