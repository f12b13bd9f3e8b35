import { casesAt, FLAT_CASE, type StepOf, type SettingsCase } from '@yield/core';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { useDraft } from '../../ui/useDraft.ts';

export interface CeilingSetting {
  cases: SettingsCase[];
  settingsCase: SettingsCase;
  setCase: (id: string) => void;
  toneHz: number;
  setToneHz: (hertz: number) => void;
  /** tones that the house plays */
  tonesHz: number[];
  volume: number;
  volumeText: string;
  setVolumeText: (text: string) => void;
  key: string;
}

/** What is being measured at a ceiling step: the case, the tone, the step of the volume. Kept over a reload, and shared with the bench. */
export function useCeilingSetting(run: TuneRun, step: StepOf<'ceiling'>): CeilingSetting {
  const { rules } = run.tune.settings;
  const { source } = run.tune.chain.body;
  const key = `ceiling/${run.tune.id}/${step.id}`;
  const cases = casesAt(source, step.output);
  const [caseId, setCase] = useDraft(`${key}/case`, cases[0]?.id ?? FLAT_CASE.id);
  const settingsCase = cases.find(({ id }) => id === caseId) ?? cases[0] ?? FLAT_CASE;
  // What raises bass is seen with a bass tone alone.
  const raised = settingsCase.bassRaised === true || settingsCase.subNotches !== undefined;
  const [toneText, setTone] = useDraft(`${key}/tone/${settingsCase.id}`, String(raised ? rules.bassToneHz : step.toneHz));
  const [volumeText, setVolumeText] = useDraft(`${key}/volume`, String(Math.round(source.volumeSteps / 2)));
  return {
    cases,
    settingsCase,
    setCase,
    toneHz: Number(toneText),
    setToneHz: (hertz) => setTone(String(hertz)),
    tonesHz: [...new Set([rules.otherToneHz, rules.bassToneHz])],
    volume: Number(volumeText),
    volumeText,
    setVolumeText,
    key,
  };
}
