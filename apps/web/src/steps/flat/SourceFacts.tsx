import { INPUT_NAMES, OUTPUT_NAMES, sourceInputs, sourceOutputs } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { ViewProps } from '../view.ts';

/** What is known of the source, beside its Flat list. */
export function SourceFacts({ run }: Pick<ViewProps<'flat'>, 'run'>): JSX.Element {
  const { source } = run.tune.chain.body;
  const rows: [string, string][] = [
    [
      'Inputs',
      sourceInputs(source)
        .map((input) => INPUT_NAMES[input])
        .join(', '),
    ],
    [
      'Outputs',
      sourceOutputs(source)
        .map((output) => OUTPUT_NAMES[output])
        .join(', '),
    ],
    ['Volume', `${source.workingVolume} of ${source.volumeSteps}${source.volumeBasis === 'assumed' ? ', assumed' : ''}`],
  ];
  return (
    <section className="panel" aria-label="Source">
      <h2 className="text-sm font-semibold">{source.name}</h2>
      <dl className="mt-3 space-y-2">
        {rows.map(([name, value]) => (
          <div key={name} className="flex items-baseline justify-between gap-4">
            <dt className="text-quiet text-sm">{name}</dt>
            <dd className="text-right font-medium">{value}</dd>
          </div>
        ))}
      </dl>
      <p className="text-quiet mt-3 text-sm leading-snug">A control that is missing here, or one that this source does not have?</p>
      <Link to={`/tunes/${run.tune.id}/chain`} className="btn mt-2 w-full">
        Open the chain
      </Link>
    </section>
  );
}
