import { formatQuantity, hookupPlans, type HookupPlan } from '@yield/core';
import type { JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { GradeMark } from '../ui/StatusMark.tsx';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { HookupDrawing } from './HookupDrawing.tsx';

type Outputs = '1' | '2' | '4';

/** The common ways to use an amplifier, side by side. */
export function HookupTool(): JSX.Element {
  const [outputs, setOutputs] = useDraft('desk/outputs', '4');
  const [pairs, setPairs] = useDraft('desk/pairs', '2');
  const front = useQuantityDraft('desk/front', 'ohm', '4');
  const rear = useQuantityDraft('desk/rear', 'ohm', '4');
  const subwoofer = useQuantityDraft('desk/subwoofer', 'ohm', '4');
  const stereo = useQuantityDraft('desk/minimum-stereo', 'ohm', '2');
  const bridged = useQuantityDraft('desk/minimum-bridged', 'ohm', '4');
  const mono = useQuantityDraft('desk/minimum-mono', 'ohm', '1');
  const complete = front.value !== undefined && rear.value !== undefined && subwoofer.value !== undefined;
  const plans = complete
    ? hookupPlans({
        outputs: Number(outputs) as 1 | 2 | 4,
        terminalPairs: Number(pairs) as 1 | 2,
        frontOhm: front.value ?? 4,
        rearOhm: rear.value ?? 4,
        subwooferOhm: subwoofer.value ?? 4,
        ...(stereo.value === undefined ? {} : { minimumStereoOhm: stereo.value }),
        ...(bridged.value === undefined ? {} : { minimumBridgedOhm: bridged.value }),
        ...(mono.value === undefined ? {} : { minimumMonoOhm: mono.value }),
      })
    : [];
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <ChoiceField
          label="Channels of the amplifier"
          value={outputs as Outputs}
          choices={[
            { value: '1', label: 'One' },
            { value: '2', label: 'Two' },
            { value: '4', label: 'Four' },
          ]}
          onChange={setOutputs}
        />
        {outputs === '1' ? (
          <>
            <ChoiceField
              label="Pairs of terminals"
              value={pairs as '1' | '2'}
              choices={[
                { value: '1', label: 'One' },
                { value: '2', label: 'Two' },
              ]}
              onChange={setPairs}
            />
            <QuantityField label="Lowest load" unit="ohm" draft={mono} />
          </>
        ) : (
          <div className="grid grid-cols-2 gap-3">
            <QuantityField label="Lowest, stereo" unit="ohm" draft={stereo} />
            <QuantityField label="Lowest, bridged" unit="ohm" draft={bridged} />
            <QuantityField label="Each front side" unit="ohm" draft={front} />
            <QuantityField label="Each rear side" unit="ohm" draft={rear} />
          </div>
        )}
        <QuantityField label="Subwoofer" unit="ohm" draft={subwoofer} />
      </div>
      <ul className="grid min-w-0 grid-cols-1 gap-x-10 gap-y-8 xl:grid-cols-2">
        {plans.map((plan) => (
          <Plan key={plan.id} plan={plan} outputs={Number(outputs) as 1 | 2 | 4} terminalPairs={Number(pairs) as 1 | 2} />
        ))}
        {!complete && <li className="text-quiet">Enter the loads to see what each channel drives.</li>}
      </ul>
    </div>
  );
}

const VERDICT = {
  fits: { grade: 'good', words: 'fits' },
  'below-minimum': { grade: 'stop', words: 'too low' },
  unknown: { grade: 'attention', words: 'lowest load unknown' },
} as const;

function Plan({ plan, outputs, terminalPairs }: { plan: HookupPlan; outputs: 1 | 2 | 4; terminalPairs: 1 | 2 }): JSX.Element {
  const { grade, words } = VERDICT[plan.verdict];
  const worst = plan.outputs.filter(({ seen }) => seen.verdict === plan.verdict);
  return (
    <li className="border-line min-w-0 border-t pt-4">
      <div className="flex items-baseline justify-between gap-4">
        <h2 className="text-lg leading-snug">{plan.name}</h2>
        <span className="flex shrink-0 items-center gap-2 font-medium">
          <GradeMark grade={grade} size={18} /> {words}
        </span>
      </div>
      <div className="mt-2 grid grid-cols-1 gap-x-5 gap-y-2 sm:grid-cols-[12.5rem_minmax(0,1fr)]">
        <HookupDrawing plan={plan} outputs={outputs} terminalPairs={terminalPairs} />
        <div className="min-w-0 space-y-2 text-[0.9375rem] leading-snug">
          <ul>
            {plan.outputs.map((output) => (
              <li key={output.terminals} className="flex justify-between gap-3">
                <span>
                  {output.terminals}: <span className="text-quiet">{output.drives}</span>
                </span>
                <span className="text-right font-semibold whitespace-nowrap">
                  {formatQuantity(output.loadOhm, 'ohm')}
                  {output.mode === 'bridged' && (
                    <span className="text-quiet font-normal">, {formatQuantity(output.seen.perChannelOhm, 'ohm')} each</span>
                  )}
                </span>
              </li>
            ))}
          </ul>
          {plan.verdict !== 'fits' && (
            <p className={plan.verdict === 'unknown' ? 'text-attention' : 'text-stop font-medium'}>{worst[0]?.seen.note}</p>
          )}
          {plan.outputs.some(({ mode, seen }) => mode === 'bridged' && seen.verdict === 'fits') && (
            <p className="text-quiet text-sm">{plan.outputs.find(({ mode }) => mode === 'bridged')?.seen.note}</p>
          )}
          {plan.lost.length > 0 && <Points name="Lost" points={plan.lost} />}
          {plan.manualMustAllow.length > 0 && <Points name="The manual must allow" points={plan.manualMustAllow} />}
        </div>
      </div>
    </li>
  );
}

function Points({ name, points }: { name: string; points: readonly string[] }): JSX.Element {
  return (
    <p className="text-sm">
      <span className="font-semibold">{name}:</span> {points.join(' ')}
    </p>
  );
}
