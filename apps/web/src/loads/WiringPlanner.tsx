import type { LoadPlan } from '@yield/core';
import type { JSX, ReactNode } from 'react';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useQuantityDraft, type QuantityDraft } from '../ui/useDraft.ts';
import { OptionList } from './OptionList.tsx';
import { SelectedWiring } from './SelectedWiring.tsx';
import { useWiring, type PlannerSubject, type WiringOnScreen } from './useWiring.ts';

/** The ways to wire on the left, the chosen one drawn on the right. */
export function WiringPlanner({
  subject,
  inputs,
  action,
}: {
  subject: PlannerSubject;
  /** what stands above the list: the drivers and the amplifier */
  inputs: ReactNode;
  action?: (wiring: WiringOnScreen) => ReactNode;
}): JSX.Element {
  const wished = useQuantityDraft(`${subject.draftKey}/wished`, 'ohm');
  const work = useWiring(subject, wished.value);
  const { plan, wiring, selected, select } = work;
  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,19.5rem)_minmax(0,1fr)]">
      <div className="min-w-0 space-y-5 print:hidden">
        {inputs}
        <WishedLoad draft={wished} wished={plan.wished} />
        <OptionList
          wirings={plan.wirings}
          coils={wiring.coils}
          selected={selected}
          onSelect={select}
          bare={subject.resistorOhm !== undefined}
        />
      </div>
      <SelectedWiring subject={subject} work={work} action={action?.(wiring)} />
    </div>
  );
}

/** A load that is wished for: which wiring gives it, or what to buy instead. */
function WishedLoad({ draft, wished }: { draft: QuantityDraft; wished: LoadPlan['wished'] }): JSX.Element {
  return (
    <div>
      <QuantityField label="Target load (optional)" unit="ohm" draft={draft} className="max-w-44" />
      {wished !== undefined && (
        <div className="mt-2 text-sm leading-snug" aria-live="polite">
          <p className={wished.networks.length === 0 ? 'text-attention font-medium' : 'text-good font-medium'}>{wished.words}</p>
          {wished.purchases.length > 0 && (
            <>
              <p className="mt-1">What would give it, every coil at the same power:</p>
              <ul className="list-disc pl-5">
                {wished.purchases.map(({ words }) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </>
          )}
        </div>
      )}
    </div>
  );
}
