import { formatQuantity, levelTrial, signedDb, voltageFactor, type Channel, type ChannelNow, type LevelChoice } from '@yield/core';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

type Whom = 'own' | 'all';

/** Gains for tones of several recorded levels side by side, with what each costs; one is kept. */
export function LevelTrial({ run, step, onClose }: { run: TuneRun; step: ChannelNow; onClose: () => void }): JSX.Element | null {
  const [whom, setWhom] = useState<Whom>('all');
  const [fault, setFault] = useState<string>();
  const { edit } = useEditChain(run.tune);
  const { channel, power, target, loss, sagDb } = step;
  if (power.kind === 'unknown' || target === undefined) return null;
  const { rules } = run.tune.settings;
  const headroomDb = (channel.headroomDb ?? rules.headroomDb) + (channel.blendDb ?? 0);
  const choices = levelTrial({ powerWatt: power.powerWatt, loadOhm: channel.loadOhm, headroomDb, shiftDb: loss.db - loss.peakDb + sagDb });
  const keep = async ({ toneLevelDbfs, overlapDb }: LevelChoice): Promise<void> => {
    const body = run.tune.chain.body;
    const channels = body.channels.map((each): Channel =>
      whom === 'all' || each.id === channel.id ? { ...each, toneLevelDbfs, overlapDb } : each,
    );
    const faults = await edit({ ...body, channels });
    setFault(faults[0]?.message);
    if (faults.length === 0) onClose();
  };
  const kept = choices.find(
    ({ toneLevelDbfs, overlapDb }) => toneLevelDbfs === step.toneLevelDbfs && overlapDb === (channel.overlapDb ?? rules.overlapDb),
  );
  return (
    <Dialog title="Which recorded level is the gain set with?" onClose={onClose} wide>
      <p className="text-quiet mb-4 leading-snug">
        The tone of each is read to the same figure. A tone recorded lower leaves more gain behind it: quiet recordings gain, full-scale
        ones are cut.
      </p>
      <div className="mb-4">
        <ChoiceField
          label="Kept for"
          value={whom}
          onChange={setWhom}
          choices={[
            { value: 'all', label: 'every channel' },
            { value: 'own', label: `${channel.name} alone` },
          ]}
        />
      </div>
      <ul className="grid gap-3 sm:grid-cols-3">
        {choices.map((choice) => (
          <li key={choice.toneLevelDbfs} className="border-line flex flex-col rounded-md border p-3">
            <h3 className="text-lg">{formatQuantity(choice.toneLevelDbfs, 'dBFS')}</h3>
            <p className="text-quiet text-sm">read to {formatQuantity(choice.settingVoltage, 'V')}</p>
            <CutWave overlapDb={Math.max(0, choice.overlapDb - headroomDb)} />
            <ul className="mb-3 flex-1 space-y-1 text-sm leading-snug">
              {costsOf(choice).map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
            <button type="button" className={`btn btn-tall ${choice === kept ? '' : 'btn-primary'}`} onClick={() => void keep(choice)}>
              {choice === kept ? 'Kept' : 'Keep this one'}
            </button>
          </li>
        ))}
      </ul>
      {fault !== undefined && (
        <p role="alert" className="text-stop mt-3">
          {fault}
        </p>
      )}
    </Dialog>
  );
}

function costsOf({ overlapDb, cutShare, thdPercent, powerAgainstCleanDb }: LevelChoice): string[] {
  if (overlapDb === 0) return ['Nothing is cut.', 'Quiet recordings stay quiet.', 'Hiss stays where it is.'];
  return [
    cutShare === 0
      ? 'Nothing is cut: the headroom takes it.'
      : `Full-scale peaks are flat for ${Math.round(100 * cutShare)} % of their time, ${formatQuantity(thdPercent, '%')} distortion.`,
    ...(cutShare === 0 ? [] : [`A full-scale tone carries ${signedDb(powerAgainstCleanDb)} more than the clean one: heat in the coils.`]),
    `Quiet recordings play ${formatQuantity(overlapDb, 'dB')} louder.`,
    `Hiss rises by ${formatQuantity(overlapDb, 'dB')}.`,
  ];
}

const WIDTH = 160;
const HEIGHT = 64;

/** One cycle of full-scale music between the rails: what passes, and what is cut. */
function CutWave({ overlapDb }: { overlapDb: number }): JSX.Element {
  const height = voltageFactor(overlapDb);
  const scale = (HEIGHT / 2 - 2) / voltageFactor(10);
  const points = (limit: number): string =>
    Array.from({ length: 81 }, (_, i) => {
      const y = Math.max(-limit, Math.min(limit, height * Math.sin((2 * Math.PI * i) / 80)));
      return `${((i / 80) * WIDTH).toFixed(1)},${(HEIGHT / 2 - scale * y).toFixed(1)}`;
    }).join(' ');
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="my-2 w-full"
      role="img"
      aria-label={overlapDb === 0 ? 'nothing is cut' : 'the tops are cut'}
    >
      {[-1, 1].map((side) => (
        <line
          key={side}
          x1="0"
          x2={WIDTH}
          y1={HEIGHT / 2 - side * scale}
          y2={HEIGHT / 2 - side * scale}
          stroke="var(--line)"
          strokeWidth="1"
        />
      ))}
      <polyline points={points(Infinity)} fill="none" stroke="var(--attention)" strokeWidth="1.2" strokeDasharray="2 3" />
      <polyline points={points(1)} fill="none" stroke="var(--action)" strokeWidth="2" />
    </svg>
  );
}
