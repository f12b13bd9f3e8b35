import { formatQuantity, INPUT_NAMES, sourceInputs, type Chain } from '@yield/core';
import { Plus } from 'lucide-react';
import type { JSX } from 'react';
import { Fact, PartTitle } from './PartTitle.tsx';

/** Where the signal comes from. */
export function SourcePanel({ chain, onEdit }: { chain: Chain; onEdit: () => void }): JSX.Element {
  const { source } = chain;
  return (
    <section className="panel" aria-label="Source">
      <PartTitle role="Source" name={source.name} onEdit={onEdit} />
      <dl className="mt-3 space-y-2">
        <Fact
          name="Inputs"
          value={sourceInputs(source)
            .map((input) => INPUT_NAMES[input])
            .join(', ')}
        />
        <Fact name="Working volume" value={`${source.workingVolume} of ${source.volumeSteps}`} />
        <Fact
          name="Basis"
          value={source.volumeBasis === 'measured' ? 'measured' : 'assumed, not measured'}
          attention={source.volumeBasis === 'assumed'}
        />
        {source.outputVolt !== undefined && <Fact name="Output there" value={formatQuantity(source.outputVolt, 'V')} />}
        {source.ceilingVolt !== undefined && <Fact name="Clean up to" value={formatQuantity(source.ceilingVolt, 'V')} />}
      </dl>
    </section>
  );
}

/** What stands between source and amplifiers, if anything. */
export function ProcessorPanel({ chain, onEdit, onRemove }: { chain: Chain; onEdit: () => void; onRemove: () => void }): JSX.Element {
  const { processor } = chain;
  if (processor === undefined) {
    return (
      <button type="button" className="btn btn-ghost text-action" onClick={onEdit}>
        <Plus size={18} aria-hidden /> Add processor
      </button>
    );
  }
  return (
    <section className="panel" aria-label="Processor">
      <PartTitle role="Processor" name={processor.name} onEdit={onEdit} onRemove={onRemove} />
      <dl className="mt-3 space-y-2">
        <Fact name="Inputs" value={processor.inputs.map(({ name }) => name).join(', ')} />
        <Fact name="Outputs" value={processor.outputs.map(({ name }) => name).join(', ')} />
        <Fact name="Wanted there" value={formatQuantity(processor.outputVolt, 'V')} />
      </dl>
    </section>
  );
}
