import { formatQuantity, seriesResistor, signedDb } from '@yield/core';
import type { JSX } from 'react';
import { FindingLine } from '../ui/FindingLine.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useQuantityDraft } from '../ui/useDraft.ts';
import { BigFigure } from './BigFigure.tsx';

/** A resistor for a source that must not see a low load: what it costs, and what it has to bear. */
export function ResistorTool(): JSX.Element {
  const load = useQuantityDraft('desk/resistor-load', 'ohm', '2');
  const resistor = useQuantityDraft('desk/resistor', 'ohm', '2');
  const rating = useQuantityDraft('desk/resistor-rating', 'W', '25');
  const voltage = useQuantityDraft('desk/resistor-voltage', 'V', '9');
  const result =
    load.value === undefined || resistor.value === undefined || voltage.value === undefined
      ? undefined
      : seriesResistor({
          loadOhm: load.value,
          resistorOhm: resistor.value,
          voltageRms: voltage.value,
          ...(rating.value === undefined ? {} : { ratedPowerWatt: rating.value }),
        });
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <QuantityField label="Load of the drivers" unit="ohm" draft={load} />
        <QuantityField label="Resistor in series" unit="ohm" draft={resistor} />
        <QuantityField label="Its rating" unit="W" draft={rating} />
        <QuantityField label="The source gives at most" unit="V" draft={voltage} hint="RMS, as a meter reads a tone" />
      </div>
      {result === undefined ? (
        <p className="text-quiet">Enter load, resistor and voltage.</p>
      ) : (
        <div className="min-w-0 space-y-6" aria-live="polite">
          <div className="flex flex-wrap gap-x-12 gap-y-4">
            <BigFigure label="The source sees" value={formatQuantity(result.loadOhm, 'ohm')} />
            <BigFigure label="Level lost" value={signedDb(result.levelChangeDb)} />
            <BigFigure
              label="Heat in the resistor"
              value={formatQuantity(result.resistorWatt, 'W')}
              note={`buy ${formatQuantity(result.wantedRatingWatt, 'W')} or more`}
            />
          </div>
          <PowerSplit coilsWatt={result.coilsWatt} resistorWatt={result.resistorWatt} />
          <div className="max-w-prose space-y-3">
            {result.findings.map((finding, i) => (
              <FindingLine key={finding.words} finding={finding} large={i === 0 && finding.grade !== 'note'} />
            ))}
          </div>
        </div>
      )}
    </div>
  );
}

/** All the power in one bar: sound on the left, heat on the right. */
function PowerSplit({ coilsWatt, resistorWatt }: { coilsWatt: number; resistorWatt: number }): JSX.Element {
  const all = coilsWatt + resistorWatt;
  return (
    <div className="max-w-2xl">
      <div className="flex h-9 overflow-hidden rounded-md" aria-hidden>
        <span className="bg-action" style={{ width: `${(100 * coilsWatt) / all}%` }} />
        <span
          className="flex-1"
          style={{
            background: 'repeating-linear-gradient(135deg, var(--stop) 0 6px, color-mix(in srgb, var(--stop) 55%, var(--ground)) 6px 12px)',
          }}
        />
      </div>
      <p className="mt-1.5 flex justify-between gap-4 text-sm">
        <span>{formatQuantity(coilsWatt, 'W')} in the drivers</span>
        <span>{formatQuantity(resistorWatt, 'W')} as heat</span>
      </p>
    </div>
  );
}
