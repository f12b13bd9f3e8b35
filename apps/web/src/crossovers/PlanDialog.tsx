import { findingKey } from '../ui/findingKey.ts';
import { planCrossovers, type Chain, type CrossoverPlan, type FilterFamily } from '@yield/core';
import { useState, type JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { FindingLine } from '../ui/FindingLine.tsx';

interface Props {
  chain: Chain;
  plan: CrossoverPlan;
  onPlan: (plan: CrossoverPlan) => void;
  onTake: (chain: Chain) => void;
  onClose: () => void;
}

const WISHES = [
  { value: 'linkwitz-riley/4', label: '24 dB, Linkwitz-Riley' },
  { value: 'linkwitz-riley/2', label: '12 dB, Linkwitz-Riley' },
  { value: 'butterworth/3', label: '18 dB, Butterworth' },
  { value: 'linkwitz-riley/8', label: '48 dB, Linkwitz-Riley' },
] as const;

/** What Yield proposes for the whole chain, and why; nothing changes before it is taken. */
export function PlanDialog({ chain, plan, onPlan, onTake, onClose }: Props): JSX.Element {
  const [wish, setWish] = useState<(typeof WISHES)[number]['value']>('linkwitz-riley/4');
  return (
    <Dialog title="Proposed crossovers" onClose={onClose} wide>
      <ChoiceField
        label="Slope, where the gear leaves a choice"
        value={wish}
        choices={WISHES}
        onChange={(next) => {
          setWish(next);
          const [family, order] = next.split('/');
          onPlan(planCrossovers(chain, { family: family as FilterFamily, order: Number(order) }));
        }}
      />
      {plan.reasons.length === 0 ? (
        <p className="text-quiet mt-4">
          There is nothing to go by yet: say of each driver what it plays, and where its range begins and ends.
        </p>
      ) : (
        <ol className="border-line divide-line mt-5 divide-y border-y">
          {plan.reasons.map(({ text, why }) => (
            <li key={text} className="py-2.5">
              <p className="font-semibold">{text}</p>
              <p className="text-quiet text-sm leading-snug">{why.charAt(0).toUpperCase() + why.slice(1)}.</p>
            </li>
          ))}
        </ol>
      )}
      {plan.findings.length > 0 && (
        <div className="mt-4 space-y-2">
          {plan.findings.map((finding) => (
            <FindingLine key={findingKey(finding)} finding={finding} />
          ))}
        </div>
      )}
      <div className="mt-6 flex flex-wrap items-center gap-3">
        <button type="button" className="btn btn-primary btn-tall" disabled={plan.reasons.length === 0} onClick={() => onTake(plan.chain)}>
          Use the proposal
        </button>
        <p className="text-quiet text-sm">It takes the place of the filters on this screen; the chain stays until you put it in.</p>
      </div>
    </Dialog>
  );
}
