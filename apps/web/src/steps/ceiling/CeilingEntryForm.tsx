import { formatQuantity, type StepOf, type EyeVerdict, type LineConditions } from '@yield/core';
import { ChevronDown, ChevronUp, CornerDownLeft } from 'lucide-react';
import { useRef, useState, type JSX } from 'react';
import { useEnterReading } from '../kit/useEnterReading.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { useKeys } from '../../ui/useKeys.ts';
import { readCeilingEntry, volumeFault } from './ceilingEntry.ts';
import type { CeilingSetting } from './useCeilingSetting.ts';

const EYES: readonly { letter: string; verdict: EyeVerdict }[] = [
  { letter: 'c', verdict: 'clean' },
  { letter: 'f', verdict: 'fuzzy' },
  { letter: 'x', verdict: 'clipped' },
];

/** Digits, Enter, and the volume is one step on. A letter after the digits says what the scope's picture looks like. */
export function CeilingEntryForm({
  run,
  step,
  setting,
  conditions,
}: {
  run: TuneRun;
  step: StepOf<'ceiling'>;
  setting: CeilingSetting;
  conditions: () => LineConditions;
}): JSX.Element {
  const enterReading = useEnterReading(run.tune.id);
  const [text, setText] = useDraft(`${setting.key}/row`);
  const [refusal, setRefusal] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const { volumeSteps } = run.tune.chain.body.source;
  const { volume, volumeText, setVolumeText } = setting;
  useKeys({ r: () => input.current?.focus() });
  const entry = readCeilingEntry(text);
  const stepBy = (by: number): void => {
    setRefusal(null);
    if (Number.isInteger(volume)) setVolumeText(String(Math.max(0, Math.min(volumeSteps, volume + by))));
  };
  const enter = (eye?: EyeVerdict): void => {
    const fault = volumeFault(volumeText, volumeSteps);
    const faultWords =
      fault ??
      (entry.kind === 'fault'
        ? entry.message
        : entry.kind === 'empty' && eye === undefined
          ? 'Type the voltage, or what the picture looks like.'
          : undefined);
    if (faultWords !== undefined) {
      setRefusal(faultWords);
      return;
    }
    const { value, resolution } = entry.kind === 'ok' ? entry : { value: 0, resolution: 0.001 };
    const seen = eye ?? (entry.kind === 'ok' ? entry.eye : undefined);
    enterReading({
      stepId: step.id,
      kind: 'source-voltage',
      value,
      resolution,
      conditions: { ...conditions(), ...(seen === undefined ? {} : { eye: seen }) },
    });
    setText(null);
    setRefusal(null);
    if (volume < volumeSteps) setVolumeText(String(volume + 1));
    input.current?.focus();
  };

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        enter();
      }}
    >
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div>
          <label className="label" htmlFor="ceiling-volume">
            Volume
          </label>
          <div className="mt-1 flex items-center gap-1">
            <input
              id="ceiling-volume"
              className="border-line bg-ground h-15 w-22 rounded-md border-2 px-2 text-right text-4xl font-semibold"
              inputMode="numeric"
              autoComplete="off"
              value={volumeText}
              onChange={(event) => {
                setRefusal(null);
                setVolumeText(event.target.value);
              }}
              onKeyDown={(event) => {
                if (event.key !== 'Enter') return;
                event.preventDefault();
                input.current?.focus();
              }}
            />
            <div className="flex flex-col">
              <StepButton label="One step up" onClick={() => stepBy(1)}>
                <ChevronUp size={18} aria-hidden />
              </StepButton>
              <StepButton label="One step down" onClick={() => stepBy(-1)}>
                <ChevronDown size={18} aria-hidden />
              </StepButton>
            </div>
          </div>
        </div>
        <label className="min-w-0 flex-1">
          <span className="label flex items-center gap-2">
            Meter reads <kbd className="key">r</kbd>
          </span>
          <span
            className={`bg-ground mt-1 flex h-15 min-w-36 items-baseline gap-2 rounded-md border-2 px-3 ${refusal === null ? 'border-line focus-within:border-action' : 'border-stop'}`}
          >
            <input
              ref={input}
              aria-label="Meter reads"
              className="w-full min-w-0 bg-transparent py-1.5 text-4xl font-semibold outline-none"
              inputMode="text"
              autoComplete="off"
              size={6}
              value={text}
              aria-invalid={refusal !== null}
              onChange={(event) => {
                setRefusal(null);
                setText(event.target.value);
              }}
              onKeyDown={(event) => {
                if (event.key === 'Escape') event.currentTarget.blur();
                if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
                event.preventDefault();
                stepBy(event.key === 'ArrowUp' ? 1 : -1);
              }}
            />
            <span className="text-quiet text-xl">V</span>
          </span>
        </label>
        <button type="submit" className="btn btn-primary btn-tall h-15 px-3.5" aria-label="Enter this step">
          <CornerDownLeft size={20} aria-hidden />
        </button>
        <div>
          <p className="label">Picture, if you look at one</p>
          <div className="mt-1 flex gap-1">
            {EYES.map(({ letter, verdict }) => (
              <button key={verdict} type="button" className="btn h-15 min-w-16 flex-col gap-0.5 px-2.5" onClick={() => enter(verdict)}>
                {verdict}
                <kbd className="key">{letter}</kbd>
              </button>
            ))}
          </div>
        </div>
      </div>
      <p
        className={`mt-1 min-h-5 text-sm leading-snug ${refusal === null ? 'text-quiet' : 'text-stop font-medium'}`}
        role={refusal === null ? undefined : 'alert'}
      >
        {refusal ?? echo(entry)}
      </p>
    </form>
  );
}

function echo(entry: ReturnType<typeof readCeilingEntry>): string {
  if (entry.kind !== 'ok') return 'Enter stores the step and goes one up; the arrow keys change the step.';
  const volts = entry.value > 0 ? `reads as ${formatQuantity(entry.value, 'V')}` : 'no voltage';
  return entry.eye === undefined ? volts : `${volts}, ${entry.eye} by eye`;
}

function StepButton({ label, onClick, children }: { label: string; onClick: () => void; children: JSX.Element }): JSX.Element {
  return (
    <button
      type="button"
      tabIndex={-1}
      className="btn btn-ghost h-7.5 min-h-7.5 w-11 px-0"
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
