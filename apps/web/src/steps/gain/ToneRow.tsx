import {
  formatQuantity,
  gainReadingThatCounts,
  loadAtGain,
  loadConditions,
  signedDb,
  toneRow,
  toneRowWords,
  type LoadConditions,
} from '@yield/core';
import { useState, type JSX } from 'react';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import type { ViewProps } from '../view.ts';

const TONES_HZ = [20, 25, 30, 40, 50, 63, 80, 100, 160, 315, 400, 1000, 4000];

/** The same knob at other tones: what they read, and why. */
export function ToneRow({ run, current }: ViewProps<'gain'>): JSX.Element | null {
  const { step } = current;
  const tones = TONES_HZ.filter((hertz) => hertz !== step.toneHz);
  const [toneHz, setToneHz] = useState(() => tones.find((hertz) => hertz < step.toneHz) ?? 100);
  const set = gainReadingThatCounts(step, run.now);
  if (set === undefined) return null;
  const row = toneRow(step, set, run.now);
  const conditions: LoadConditions = { ...loadConditions(step, run.now, loadAtGain(run.tune.settings.rules)), toneHz };
  return (
    <Reveal summary={row.length === 0 ? 'Other tones at this knob' : `Other tones at this knob: ${row.length}`}>
      <p className="text-quiet mb-3 max-w-prose leading-snug">
        Leave the gain, play another tone at the same level and type the reading. Yield separates the effects of filters, meter and
        amplifier.
      </p>
      <div className="mb-3 grid max-w-xl items-start gap-3 sm:grid-cols-2">
        <ChoiceField
          label="Tone"
          value={String(toneHz)}
          onChange={(value) => setToneHz(Number(value))}
          choices={tones.map((hertz) => ({ value: String(hertz), label: formatQuantity(hertz, 'Hz') }))}
        />
        <ReadingEntry run={run} current={current} kind="tone-voltage" unit="V" conditions={conditions} label="Meter reads" />
      </div>
      {row.length > 0 && (
        <ul className="max-w-3xl space-y-2">
          {row.map((entry) => (
            <li key={entry.toneHz} className="grid grid-cols-[4.5rem_5rem_5rem_minmax(0,1fr)] gap-3 leading-snug">
              <span>{formatQuantity(entry.toneHz, 'Hz')}</span>
              <span>{formatQuantity(entry.voltageRms, 'V')}</span>
              <span>{signedDb(entry.differenceDb)}</span>
              <span className={entry.laidTo === 'amplifier' ? '' : 'text-quiet'}>{toneRowWords(entry)}</span>
            </li>
          ))}
        </ul>
      )}
    </Reveal>
  );
}
