import { compareFigures, formatQuantity, parseQuantity, signedDb } from '@yield/core';
import type { JSX } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { GradedLine } from '../../ui/FindingLine.tsx';
import { QuantityField } from '../../ui/QuantityField.tsx';
import { useQuantityDraft } from '../../ui/useDraft.ts';

/** Two meters on the same terminals: whether they differ by more than they may. */
export function TwoMeters({ run }: { run: TuneRun }): JSX.Element {
  const key = `two-meters/${run.tune.id}`;
  const { meter } = run.tune.settings;
  const first = useQuantityDraft(`${key}/first`, 'V');
  const second = useQuantityDraft(`${key}/second`, 'V');
  const percent = useQuantityDraft(`${key}/percent`, '%', '1');
  const resolutionOf = (text: string): number => {
    const parsed = parseQuantity(text, 'V');
    return parsed.kind === 'ok' ? parsed.resolution : 0.01;
  };
  const compared =
    first.value === undefined || second.value === undefined
      ? undefined
      : compareFigures(
          { value: first.value, resolution: resolutionOf(first.text), meter },
          { value: second.value, resolution: resolutionOf(second.text), meter: { percent: percent.value ?? 1, digits: meter.digits } },
          false,
        );
  return (
    <div className="max-w-2xl space-y-3">
      <div className="grid gap-3 sm:grid-cols-3">
        <QuantityField label={`This meter (${meter.percent} %)`} unit="V" draft={first} />
        <QuantityField label="The other meter" unit="V" draft={second} />
        <QuantityField label="Its accuracy" unit="%" draft={percent} />
      </div>
      {compared !== undefined && (
        <GradedLine
          {...(compared.same
            ? {
                grade: 'good',
                text: `${signedDb(compared.differenceDb)}: no difference that these two meters could tell (${formatQuantity(compared.uncertaintyDb, 'dB')}).`,
              }
            : {
                grade: 'attention',
                text: `${signedDb(compared.differenceDb)} apart, and ${formatQuantity(compared.uncertaintyDb, 'dB')} is the most their accuracy allows.`,
                next: 'One of them is off at this tone: many meters read low above 400 Hz. Use one meter for all channels.',
              })}
        />
      )}
    </div>
  );
}
