import type { TuneDetail } from '@yield/contract';
import { inverseOf, STATUSES_BY_SEVERITY, type Chain, type ChainChange, type StepStatus } from '@yield/core';
import { Plus } from 'lucide-react';
import { useState, type JSX } from 'react';
import { useParams } from 'react-router';
import { LevelPath } from '../levelPath/LevelPath.tsx';
import { useEditChain } from '../tune/useEdit.ts';
import { useFirstPath, useTuneRun, useTune } from '../tune/useTuneRun.ts';
import { Loading } from '../ui/Loading.tsx';
import { AmplifierSection } from './AmplifierSection.tsx';
import { PartDialog, type Editing } from './PartDialog.tsx';
import { ProcessorPanel, SourcePanel } from './SourcePanels.tsx';

/** The signal path from left to right: source, amplifiers with their channels, drivers. */
export function ChainScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const data = useTune(tuneId);
  return data === undefined ? <Loading what="the chain" /> : <ChainOfTune tune={data} />;
}

function ChainOfTune({ tune }: { tune: TuneDetail }): JSX.Element {
  const run = useTuneRun(tune.id);
  const [editing, setEditing] = useState<Editing | null>(null);
  const [undo, setUndo] = useState<{ changes: readonly ChainChange[]; words: string } | null>(null);
  const { edit, change } = useEditChain(tune);
  const { body: chain } = tune.chain;
  const path = useFirstPath(run);

  const takeOut = (next: Chain, name: string): void => {
    void edit(next, { onSaved: (changes) => setUndo({ changes: inverseOf(changes), words: `${name} was taken out of the chain.` }) });
  };

  return (
    <main className="min-w-0 flex-1 px-6 py-6 max-sm:px-4">
      <h1 className="text-2xl">Chain</h1>
      {undo !== null && (
        <div role="status" className="panel mt-4 flex flex-wrap items-center justify-between gap-3">
          <span>{undo.words}</span>
          <button
            type="button"
            className="btn"
            onClick={() => {
              void change(undo.changes);
              setUndo(null);
            }}
          >
            Put it back
          </button>
        </div>
      )}
      <div className="mt-5 grid grid-cols-1 gap-8 lg:grid-cols-[15rem_minmax(0,1fr)]">
        <div className="space-y-4 self-start">
          <SourcePanel chain={chain} onEdit={() => setEditing({ part: 'source' })} />
          <ProcessorPanel
            chain={chain}
            onEdit={() => setEditing({ part: 'processor' })}
            onRemove={() => takeOut(withoutProcessor(chain), 'The processor')}
          />
        </div>
        <div className="min-w-0 space-y-8">
          {chain.amplifiers.map((amplifier) => (
            <AmplifierSection
              key={amplifier.id}
              tuneId={tune.id}
              amplifier={amplifier}
              channels={chain.channels.filter((c) => c.amplifierId === amplifier.id)}
              statusOf={(channelId) =>
                worstStatus(
                  (run?.steps ?? [])
                    .filter(({ channels, isCounted }) => isCounted && channels.some(({ channel }) => channel.id === channelId))
                    .map(({ state }) => state.status),
                )
              }
              onEdit={() => setEditing({ part: 'amplifiers', id: amplifier.id })}
              onRemove={() => takeOut(withoutAmplifier(chain, amplifier.id), `“${amplifier.name}”`)}
              onCopy={() => setEditing({ part: 'amplifiers', id: 'new', like: amplifier.id })}
              onCopyChannel={(like) => setEditing({ part: 'channels', id: `new-on-${amplifier.id}`, like })}
              onEditChannel={(id) => setEditing({ part: 'channels', id })}
              onRemoveChannel={({ id, name }) => takeOut({ ...chain, channels: chain.channels.filter((c) => c.id !== id) }, `“${name}”`)}
              onAddChannel={() => setEditing({ part: 'channels', id: `new-on-${amplifier.id}` })}
            />
          ))}
          <button type="button" className="btn btn-tall" onClick={() => setEditing({ part: 'amplifiers', id: 'new' })}>
            <Plus size={20} aria-hidden /> Add amplifier
          </button>
          {chain.amplifiers.length === 0 && (
            <p className="text-quiet">Start with the amplifier: its rated power and lowest loads decide every target that follows.</p>
          )}
        </div>
      </div>
      {path !== undefined && (
        <section className="mt-8">
          <LevelPath {...path} />
        </section>
      )}
      {editing !== null && <PartDialog tune={tune} editing={editing} edit={edit} onClose={() => setEditing(null)} />}
    </main>
  );
}

/** A processor takes its filters with it. */
function withoutProcessor({ processor: _processor, ...chain }: Chain): Chain {
  return {
    ...chain,
    channels: chain.channels.map(({ processorOutputId: _output, ...channel }) =>
      channel.filters === undefined ? channel : { ...channel, filters: channel.filters.filter(({ place }) => place !== 'processor') },
    ),
  };
}

/** An amplifier takes its channels with it. */
const withoutAmplifier = (chain: Chain, id: string): Chain => ({
  ...chain,
  amplifiers: chain.amplifiers.filter((a) => a.id !== id),
  channels: chain.channels.filter((c) => c.amplifierId !== id),
});

/** A channel is only as good as its worst step. */
function worstStatus(statuses: readonly StepStatus[]): StepStatus {
  return STATUSES_BY_SEVERITY.find((status) => statuses.includes(status)) ?? 'open';
}
