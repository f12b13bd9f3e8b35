import { POLARITIES, polarityBasis, type Channel, type Polarity, type PolarityWay } from '@yield/core';
import { useState, type JSX } from 'react';
import { useMark } from '../../tune/useMark.ts';
import { useEditChain } from '../../tune/useEdit.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { useKept } from '../../ui/useKept.ts';
import { useKeys } from '../../ui/useKeys.ts';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { Ear } from './Ear.tsx';
import { Pulse } from './Pulse.tsx';

const WORDS: Readonly<Record<Polarity, string>> = { right: 'Pushes out', reversed: 'Pulls in', unclear: 'Cannot tell' };
const KEYS: Readonly<Record<Polarity, string>> = { right: '1', reversed: '2', unclear: '3' };

/** Which way one driver moves first: by touch, by a pulse or by ear, one record whichever way. */
export function PolarityBody({ run, current }: ViewProps<'polarity'>): JSX.Element {
  const { step, state } = current;
  const [way, setWay] = useState<PolarityWay>(state.figures.way ?? 'touch');
  const { save } = useMark(run, current);
  // Of this browser: the same microphone and input come again.
  const [isInverting, setIsInverting] = useKept('input-inverts', (kept) => kept === true);
  const { key: basis, words: basisWords } = polarityBasis(step);
  const found = (polarity: Polarity, by: PolarityWay): void =>
    save({
      checks: [polarity],
      values: { way: by, ...(by === 'pulse' ? { inverts: isInverting === true ? 'yes' : 'no' } : {}) },
      basis,
      basisWords,
    });
  const { edit } = useEditChain(run.tune);
  const [fault, setFault] = useState<string>();
  /** Its wires stay as they are: crossovers and neighbours know of it, and the driver is as the chain has it. */
  const leaveSo = async (): Promise<void> => {
    const body = run.tune.chain.body;
    const channels = body.channels.map((each): Channel => {
      if (each.id !== step.channel.id) return each;
      const { isReversed, ...rest } = each;
      return isReversed === true ? rest : { ...rest, isReversed: true };
    });
    const faults = await edit({ ...body, channels });
    setFault(faults[0]?.message);
    if (faults.length === 0) found('right', state.figures.way ?? way);
  };
  // By ear the answers are others.
  useKeys(way === 'ear' ? {} : Object.fromEntries(POLARITIES.map((polarity) => [KEYS[polarity], () => found(polarity, way)])));
  return (
    <div className="min-w-0 space-y-5">
      <Verdict findings={state.findings} hint={`Which way does ${step.driver.name} move first?`} />
      <ChoiceField
        label="Find it"
        value={way}
        onChange={setWay}
        choices={[
          { value: 'touch', label: 'by touch' },
          { value: 'pulse', label: 'by a pulse' },
          { value: 'ear', label: 'by ear' },
        ]}
      />
      {way === 'touch' && (
        <ol className="max-w-2xl list-decimal space-y-1 pl-5 leading-snug">
          <li>
            Amplifier off. Take this driver’s wires off the amplifier, and touch them with a small battery, 1.5 V: plus on its plus, for a
            moment.
          </li>
          <li>
            See or feel the cone: out is right. Behind a grille a torch along the cone shows it; a tweeter is too quick for the eye, and
            never touched without its capacitor.
          </li>
          <li>One touch is one answer. The coil gets warm when the battery stays.</li>
          {step.channel.isReversed === true && (
            <li>
              This channel is set reversed on purpose. Plus is the plus of the driver itself: at the amplifier’s end of its wires it is the
              other one.
            </li>
          )}
        </ol>
      )}
      {way === 'pulse' && (
        <Pulse
          run={run}
          current={current}
          isInverting={isInverting === true}
          onInverting={(inverts) => setIsInverting(inverts ? true : null)}
        />
      )}
      {way === 'ear' && <Ear run={run} />}
      {state.figures.found === 'reversed' && step.channel.drivers.length === 1 && (
        <button type="button" className="btn btn-tall" onClick={() => void leaveSo()}>
          Keep it reversed and enter it in the chain
        </button>
      )}
      {fault !== undefined && <ErrorNotice>{fault}</ErrorNotice>}
      {way !== 'ear' && (
        <div className="grid max-w-xl gap-3 sm:grid-cols-3">
          {POLARITIES.map((polarity) => (
            <button
              key={polarity}
              type="button"
              aria-pressed={state.figures.found === polarity}
              className={`btn btn-tall ${state.figures.found === polarity ? 'btn-primary' : ''}`}
              onClick={() => found(polarity, way)}
            >
              {WORDS[polarity]} <kbd className="key">{KEYS[polarity]}</kbd>
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
