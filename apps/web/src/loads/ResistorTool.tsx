import { findingKey } from '../ui/findingKey.ts';
import { formatQuantity, seriesResistor, seriesResistorWays, signedDb } from '@yield/core';
import type { JSX } from 'react';
import { FindingLine } from '../ui/FindingLine.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useQuantityDraft } from '../ui/useDraft.ts';
import { BigFigure } from './BigFigure.tsx';

/** A resistor for a source that must not see a low load: what it costs, and what it has to bear. */
export function ResistorTool(): JSX.Element {
  const load = useQuantityDraft('desk/resistor-load', 'ohm', '2');
  const impedance = useQuantityDraft('desk/resistor-impedance', 'ohm');
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
          ...(impedance.value === undefined ? {} : { impedanceOhm: impedance.value }),
          ...(rating.value === undefined ? {} : { ratedPowerWatt: rating.value }),
        });
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <QuantityField label="Load of the drivers" unit="ohm" draft={load} />
        <QuantityField
          label="Impedance at the tone"
          unit="ohm"
          draft={impedance}
          hint="If measured: level and heat go by it, not by the name"
        />
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
          <SideBySide ohm={2 * (load.value ?? 0)} resistorOhm={resistor.value ?? 0} volt={voltage.value ?? 0} />
          <PowerSplit coilsWatt={result.coilsWatt} resistorWatt={result.resistorWatt} />
          <div className="max-w-prose space-y-3">
            {result.findings.map((finding, i) => (
              <FindingLine key={findingKey(finding)} finding={finding} large={i === 0 && finding.grade !== 'note'} />
            ))}
          </div>
        </div>
      )}
    </div>
  );
}

/** One driver, two of them, two behind the resistor: level and heat at one voltage, with room for what was measured. */
function SideBySide({ ohm, resistorOhm, volt }: { ohm: number; resistorOhm: number; volt: number }): JSX.Element {
  const measured = [
    useQuantityDraft('desk/resistor-one', 'dB', ''),
    useQuantityDraft('desk/resistor-two', 'dB', ''),
    useQuantityDraft('desk/resistor-two-behind', 'dB', ''),
  ];
  const rows = seriesResistorWays(ohm, resistorOhm, volt);
  const first = measured[0]?.value;
  return (
    <div className="overflow-x-auto">
      <table className="w-full min-w-lg text-left" aria-label="Side by side">
        <thead>
          <tr className="text-quiet text-sm">
            <th className="py-1.5 pr-3 font-medium">At the same voltage</th>
            <th className="px-2 text-right font-medium">Load</th>
            <th className="px-2 text-right font-medium">Level</th>
            <th className="px-2 text-right font-medium">Heat</th>
            <th className="px-2 font-medium">Measured</th>
          </tr>
        </thead>
        <tbody className="divide-line border-line divide-y border-y">
          {rows.map(({ name, loadOhm, levelDb, heatWatt }, i) => {
            const own = measured[i];
            return (
              <tr key={name}>
                <th scope="row" className="py-2 pr-3 font-medium">
                  {name}
                </th>
                <td className="px-2 text-right">{formatQuantity(loadOhm, 'ohm')}</td>
                <td className="px-2 text-right">{signedDb(levelDb)}</td>
                <td className="px-2 text-right">{heatWatt === 0 ? '–' : formatQuantity(heatWatt, 'W')}</td>
                <td className="px-2">
                  <span className="flex items-center gap-2">
                    {own !== undefined && <QuantityField label={`Measured, ${name}`} hideLabel unit="dB" draft={own} className="w-28" />}
                    {i > 0 && own?.value !== undefined && first !== undefined && signedDb(own.value - first)}
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="text-quiet mt-1 text-sm">Level relative to one driver, including coupling between two.</p>
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
