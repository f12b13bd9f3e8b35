import {
  capacitor,
  cornerOf,
  FAMILY_NAMES,
  filterAt,
  formatQuantity,
  passiveCornerHz,
  passiveDb,
  twoWayParts,
  type Filter,
  type PassiveAlignment,
  type PassiveParts,
} from '@yield/core';
import type { JSX } from 'react';
import { ResponseCurves } from '../crossovers/ResponseCurves.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { GradedLine, type Graded } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { BigFigure } from './BigFigure.tsx';

const WHAT = [
  { value: 'capacitor', label: 'A tweeter’s capacitor' },
  { value: 'two-way', label: 'Two-way network' },
] as const;

/** Parts between amplifier and driver: what to buy for a corner, and what they do with the driver that is really there. */
export function PassiveTool(): JSX.Element {
  const [what, setWhat] = useDraft('desk/passive', 'capacitor');
  return (
    <div className="space-y-6">
      <ChoiceField label="What to work out" hideLabel value={what as (typeof WHAT)[number]['value']} choices={WHAT} onChange={setWhat} />
      {what === 'two-way' ? <TwoWayTool /> : <CapacitorTool />}
      <div className="max-w-prose">
        <Caution>
          A tweeter never plays without its capacitor or a high-pass filter: if the capacitor is lost, bridged or taken out for a test,
          stop. Put parts in with the amplifier switched off; capacitors and inductors near full power get warm.
        </Caution>
      </div>
    </div>
  );
}

const level = (parts: PassiveParts, resistanceOhm: number, inductanceHenry: number | undefined, hertz: number): number =>
  passiveDb(parts, { resistanceOhm, ...(inductanceHenry === undefined ? {} : { inductanceHenry }) }, hertz);

function CapacitorTool(): JSX.Element {
  const ohm = useQuantityDraft('desk/cap-ohm', 'ohm', '4');
  const corner = useQuantityDraft('desk/cap-corner', 'Hz', '3500');
  const atHand = useQuantityDraft('desk/cap-farad', 'F');
  const dc = useQuantityDraft('desk/cap-dc', 'ohm');
  const coil = useQuantityDraft('desk/cap-coil', 'H');
  const activeHz = useQuantityDraft('desk/cap-active', 'Hz');
  const [activeOrder, setActiveOrder] = useDraft('desk/cap-active-order', '2');
  const wished =
    ohm.value === undefined || corner.value === undefined ? undefined : capacitor({ driverOhm: ohm.value, cornerHz: corner.value });
  const farad = atHand.value ?? wished?.nearest[0]?.capacitanceFarad;
  const parts: PassiveParts | undefined = farad === undefined ? undefined : { kind: 'highpass', capacitanceFarad: farad };
  const realOhm = dc.value ?? ohm.value;
  const active: Filter | undefined =
    activeHz.value === undefined
      ? undefined
      : { kind: 'highpass', family: 'butterworth', order: Number(activeOrder), cornerHz: activeHz.value };
  const driver =
    realOhm === undefined ? undefined : { resistanceOhm: realOhm, ...(coil.value === undefined ? {} : { inductanceHenry: coil.value }) };
  const realHz = parts === undefined || driver === undefined ? undefined : passiveCornerHz(parts, driver);
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <QuantityField label="Tweeter, nominal" unit="ohm" draft={ohm} />
        <QuantityField label="Wished corner" unit="Hz" draft={corner} />
        <QuantityField label="Capacitor at hand" unit="F" draft={atHand} hint="Such as 6.8u; without it the nearest one" />
        <QuantityField label="Coil, DC resistance" unit="ohm" draft={dc} hint="As metered: the real load" />
        <QuantityField label="Coil, inductance" unit="H" draft={coil} hint="Such as 0.05m" />
        <QuantityField label="Active high-pass above it" unit="Hz" draft={activeHz} hint="Its corner, if there is one" />
        {active !== undefined && (
          <ChoiceField
            label="Its slope, dB per octave"
            value={activeOrder}
            choices={['1', '2', '3', '4'].map((order) => ({ value: order, label: String(6 * Number(order)) }))}
            onChange={setActiveOrder}
          />
        )}
      </div>
      {wished === undefined || parts === undefined || farad === undefined || driver === undefined || ohm.value === undefined ? (
        <p className="text-quiet">Enter the tweeter’s impedance and a corner.</p>
      ) : (
        <div className="min-w-0 space-y-6" aria-live="polite">
          <div className="flex flex-wrap gap-x-12 gap-y-4">
            <BigFigure label="Capacitor for that corner" value={formatQuantity(wished.capacitanceFarad, 'F')} />
            <BigFigure
              label={`${formatQuantity(farad, 'F')} gives`}
              value={formatQuantity(cornerOf(farad, ohm.value), 'Hz')}
              note="with the nominal impedance"
            />
            <BigFigure
              label="Really"
              value={realHz === undefined ? '–' : formatQuantity(realHz, 'Hz')}
              note={dc.value === undefined && coil.value === undefined ? 'enter the coil to see' : 'with the coil as entered'}
            />
          </div>
          <ul className="border-line divide-line max-w-xl divide-y border-y" aria-label="Values that are sold">
            {wished.nearest.map((each) => (
              <li key={each.capacitanceFarad} className="flex items-baseline justify-between gap-4 py-2">
                <span className="text-lg font-semibold">{formatQuantity(each.capacitanceFarad, 'F')}</span>
                <span className="text-quiet text-sm">{each.series}</span>
                <span>{formatQuantity(each.cornerHz, 'Hz')}</span>
              </li>
            ))}
          </ul>
          <ResponseCurves
            label="What the tweeter gets over frequency"
            curves={[
              { name: 'with the real coil', db: (hertz) => level(parts, driver.resistanceOhm, coil.value, hertz) },
              { name: 'nominal', db: (hertz) => level(parts, ohm.value ?? 4, undefined, hertz) },
              ...(active === undefined
                ? []
                : [
                    {
                      name: 'with the active filter',
                      db: (hertz: number) => level(parts, driver.resistanceOhm, coil.value, hertz) + filterAt(active, hertz).db,
                    },
                  ]),
            ]}
          />
          <div className="max-w-prose space-y-3">
            {capacitorFindings(parts, driver.resistanceOhm, coil.value, corner.value ?? 0, active).map((finding) => (
              <GradedLine key={finding.text} {...finding} />
            ))}
          </div>
        </div>
      )}
    </div>
  );
}

function capacitorFindings(
  parts: PassiveParts,
  ohm: number,
  henry: number | undefined,
  cornerHz: number,
  active: Filter | undefined,
): Graded[] {
  const below = cornerHz / 2;
  const alone = level(parts, ohm, henry, below);
  const words = `An octave below, at ${formatQuantity(below, 'Hz')}, the tweeter still gets ${formatQuantity(alone, 'dB')}`;
  if (active === undefined) {
    return [
      {
        grade: 'note',
        text: `${words}: a first-order slope, 6 dB per octave.`,
        next: 'Choose the corner an octave above where its range begins, or add an active high-pass.',
      },
    ];
  }
  const both = alone + filterAt(active, below).db;
  const isClose = Math.abs(Math.log2(active.cornerHz / cornerHz)) < 1;
  return [
    { grade: 'note', text: `${words} from the capacitor alone, ${formatQuantity(both, 'dB')} with the active filter.` },
    ...(isClose
      ? [
          {
            grade: 'attention' as const,
            text: `The two work at one corner: together ${6 * (active.order + 1)} dB per octave, and ${formatQuantity(level(parts, ohm, henry, cornerHz) + filterAt(active, cornerHz).db, 'dB')} at ${formatQuantity(cornerHz, 'Hz')}.`,
            next: 'Take a capacitor an octave or more below the active corner, so that it protects and does not shape.',
          },
        ]
      : []),
  ];
}

const ALIGNMENTS: readonly PassiveAlignment[] = ['butterworth', 'linkwitz-riley', 'bessel'];

function TwoWayTool(): JSX.Element {
  const lower = useQuantityDraft('desk/two-way-lower', 'ohm', '4');
  const upper = useQuantityDraft('desk/two-way-upper', 'ohm', '4');
  const corner = useQuantityDraft('desk/two-way-corner', 'Hz', '3000');
  const lowerCoil = useQuantityDraft('desk/two-way-coil', 'H');
  const [order, setOrder] = useDraft('desk/two-way-order', '2');
  const [alignment, setAlignment] = useDraft('desk/two-way-alignment', 'linkwitz-riley');
  const { value: lowerOhm } = lower;
  const { value: upperOhm } = upper;
  const { value: cornerHz } = corner;
  const network =
    lowerOhm === undefined || upperOhm === undefined || cornerHz === undefined
      ? undefined
      : {
          lowerOhm,
          upperOhm,
          ...twoWayParts({ order: order === '1' ? 1 : 2, alignment: alignment as PassiveAlignment, cornerHz, lowerOhm, upperOhm }),
        };
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <ChoiceField
          label="Slope, dB per octave"
          value={order}
          choices={[
            { value: '1', label: '6' },
            { value: '2', label: '12' },
          ]}
          onChange={setOrder}
        />
        {order === '2' && (
          <label className="block">
            <span className="label mb-1 block">Alignment</span>
            <select className="select min-h-11 w-full" value={alignment} onChange={(event) => setAlignment(event.target.value)}>
              {ALIGNMENTS.map((each) => (
                <option key={each} value={each}>
                  {FAMILY_NAMES[each]}
                </option>
              ))}
            </select>
          </label>
        )}
        <QuantityField label="Corner" unit="Hz" draft={corner} />
        <QuantityField label="Woofer, nominal" unit="ohm" draft={lower} />
        <QuantityField label="Woofer’s coil, inductance" unit="H" draft={lowerCoil} hint="It holds the low-pass up" />
        <QuantityField label="Tweeter, nominal" unit="ohm" draft={upper} />
      </div>
      {network === undefined ? (
        <p className="text-quiet">Enter corner and impedances.</p>
      ) : (
        <div className="min-w-0 space-y-6" aria-live="polite">
          <div className="grid gap-6 sm:grid-cols-2">
            <Branch name="Woofer" parts={network.lowpass} />
            <Branch name="Tweeter" parts={network.highpass} />
          </div>
          <ResponseCurves
            label="Woofer and tweeter behind the network"
            curves={[
              { name: 'woofer', db: (hertz) => level(network.lowpass, network.lowerOhm, lowerCoil.value, hertz) },
              { name: 'tweeter', db: (hertz) => level(network.highpass, network.upperOhm, undefined, hertz) },
            ]}
          />
          <div className="max-w-prose space-y-3">
            {network.isReversed && (
              <GradedLine
                grade="note"
                text="Reverse the tweeter: the two are 180° apart at the corner."
                next="Otherwise the sum has a dip there."
              />
            )}
            <GradedLine
              grade="note"
              text="The values hold for the nominal impedance. A coil’s inductance and resonance move the corner."
              next="Enter the woofer’s inductance to see by how much."
            />
          </div>
        </div>
      )}
    </div>
  );
}

function Branch({ name, parts }: { name: string; parts: PassiveParts }): JSX.Element {
  const isHigh = parts.kind === 'highpass';
  const c = parts.capacitanceFarad === undefined ? undefined : formatQuantity(parts.capacitanceFarad, 'F');
  const l = parts.inductanceHenry === undefined ? undefined : formatQuantity(parts.inductanceHenry, 'H');
  const [inSeries, across] = isHigh ? [c, l] : [l, c];
  return (
    <section className="panel space-y-3" aria-label={name}>
      <h2 className="text-sm font-semibold">{name}</h2>
      <BigFigure label={isHigh ? 'Capacitor in series' : 'Inductor in series'} value={inSeries ?? '–'} />
      {across !== undefined && <BigFigure label={isHigh ? 'Inductor across it' : 'Capacitor across it'} value={across} />}
    </section>
  );
}
