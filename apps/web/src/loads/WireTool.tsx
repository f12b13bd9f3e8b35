import {
  AWG_GAUGES,
  formatQuantity,
  METRIC_GAUGES,
  signedDb,
  speakerWire,
  WIRE_AMPERE_PER_MM2,
  WIRE_PART,
  wireEnds,
  type WireGauge,
  type WireRow,
} from '@yield/core';
import type { JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { GradeMark } from '../ui/StatusMark.tsx';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { BigFigure } from './BigFigure.tsx';

/** What each gauge costs over the length, and the thinnest that fits. */
export function WireTool(): JSX.Element {
  const load = useQuantityDraft('desk/wire-load', 'ohm', '2');
  const power = useQuantityDraft('desk/wire-power', 'W', '300');
  const length = useQuantityDraft('desk/wire-length', 'm', '4');
  const [system, setSystem] = useDraft('desk/wire-system', 'metric');
  const result =
    load.value === undefined || power.value === undefined || length.value === undefined
      ? undefined
      : speakerWire(
          { loadOhm: load.value, powerWatt: power.value, lengthMetre: length.value },
          system === 'metric' ? METRIC_GAUGES : AWG_GAUGES,
        );
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <QuantityField label="Load" unit="ohm" draft={load} />
        <QuantityField label="Power" unit="W" draft={power} />
        <QuantityField label="Length, one way" unit="m" draft={length} hint="Yield counts there and back" />
        <ChoiceField
          label="Sizes in"
          value={system as 'metric' | 'awg'}
          choices={[
            { value: 'metric', label: 'mm²' },
            { value: 'awg', label: 'AWG' },
          ]}
          onChange={setSystem}
        />
      </div>
      {result === undefined ? (
        <p className="text-quiet">Enter load, power and length.</p>
      ) : (
        <div className="min-w-0 space-y-6">
          <div className="flex flex-wrap gap-x-12 gap-y-4" aria-live="polite">
            <BigFigure
              label="Take at least"
              value={result.recommended?.name ?? 'thicker'}
              {...(result.recommended === undefined ? { note: 'none of these fits: shorten the run or move the amplifier' } : {})}
            />
            <BigFigure label="Current" value={formatQuantity(result.currentRms, 'A')} note="RMS, while a tone lasts" />
          </div>
          <WireTable rows={result.rows} {...(result.recommended === undefined ? {} : { recommended: result.recommended.name })} />
          {result.recommended !== undefined && <Ends gauge={result.recommended} />}
          <p className="text-quiet max-w-prose text-sm leading-snug">
            Copper at 20 °C: AWG by ASTM B258 with the resistivity of IEC 60028, mm² by the highest resistance that IEC 60228 allows
            flexible wire. A wire fits where it has no more than {100 * WIRE_PART} % of the load’s resistance and carries no more than{' '}
            {WIRE_AMPERE_PER_MM2} A in a square millimetre: common practice.
          </p>
        </div>
      )}
    </div>
  );
}

function WireTable({ rows, recommended }: { rows: readonly WireRow[]; recommended?: string }): JSX.Element {
  return (
    <div className="relative max-w-2xl overflow-x-auto">
      <table className="w-full text-right">
        <thead className="text-quiet text-sm">
          <tr>
            <th className="py-1 pl-2 text-left font-medium">Wire</th>
            <th className="px-3 font-medium">there and back</th>
            <th className="px-3 font-medium">level lost</th>
            <th className="px-3 font-medium">heat in the wire</th>
            <th className="pl-3 text-left font-medium">
              <span className="sr-only">Verdict</span>
            </th>
          </tr>
        </thead>
        <tbody className="divide-line border-line divide-y border-y">
          {rows.map(({ gauge, wireOhm, levelChangeDb, lostWatt, fits }) => (
            <tr key={gauge.name} className={gauge.name === recommended ? 'bg-raised font-semibold' : ''}>
              <td className="py-2 pl-2 text-left whitespace-nowrap">{gauge.name}</td>
              <td className="px-3 whitespace-nowrap">
                {wireOhm < 0.1 ? `${(1000 * wireOhm).toPrecision(3)} mΩ` : formatQuantity(wireOhm, 'ohm')}
              </td>
              <td className="px-3 whitespace-nowrap">{signedDb(levelChangeDb)}</td>
              <td className="px-3 whitespace-nowrap">{formatQuantity(lostWatt, 'W')}</td>
              <td className="pr-2 pl-3 text-left">
                <span className="flex items-center gap-2 whitespace-nowrap">
                  <GradeMark grade={fits ? 'good' : 'attention'} size={16} /> {fits ? 'fits' : 'too thin'}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** How the wire ends: a strand that sticks out is a short. */
function Ends({ gauge }: { gauge: WireGauge }): JSX.Element {
  const { ferruleMm2, pairFerruleMm2, terminals } = wireEnds(gauge.areaMm2);
  const taking = terminals.filter(({ wires }) => wires > 0);
  return (
    <section aria-label="Its ends" className="max-w-2xl space-y-2">
      <h2 className="font-semibold">The ends of {gauge.name}</h2>
      <ul className="list-disc space-y-1 pl-5 leading-snug">
        <li>
          Screw terminal: {ferruleMm2 === undefined ? 'too thick for a ferrule' : `a ferrule of ${ferruleMm2} mm²`}, crimped, no strand
          beside it.
          {pairFerruleMm2 !== undefined && ` Two wires in one terminal go into one ferrule of ${pairFerruleMm2} mm².`}
        </li>
        <li>Stud or bolt: a ring terminal of the bolt’s size, crimped on the copper and on the sleeve; a fork slips off.</li>
        {taking.length > 0 && (
          <li>
            {taking.map(({ areaMm2, wires }) => `${wires} in a terminal for ${areaMm2} mm²`).join(', ')}: more of them, and strands are cut
            off or left outside.
          </li>
        )}
      </ul>
    </section>
  );
}
