import { formatQuantity, signedDb, spl, type SplInput } from '@yield/core';
import type { JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Caution } from '../ui/Notice.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { BigFigure } from './BigFigure.tsx';

/** Above this, a tone that lasts harms hearing within minutes. Common practice, after the exposure limits for work. */
const LOUD_DB = 100;

/** Sound pressure that the data sheet promises, what each doubling brings, and a measured level beside it. */
export function LoudTool(): JSX.Element {
  const sensitivity = useQuantityDraft('desk/sensitivity', 'dB', '87');
  const [at, setAt] = useDraft('desk/sensitivity-at', '1W');
  const impedance = useQuantityDraft('desk/loud-ohm', 'ohm', '4');
  const power = useQuantityDraft('desk/loud-power', 'W', '100');
  const drivers = useQuantityDraft('desk/loud-drivers', 'step', '2');
  const distance = useQuantityDraft('desk/loud-distance', 'm', '1');
  const measured = useQuantityDraft('desk/loud-measured', 'dB');
  const input: SplInput | undefined =
    sensitivity.value === undefined || power.value === undefined || drivers.value === undefined || distance.value === undefined
      ? undefined
      : {
          sensitivityDb: sensitivity.value,
          sensitivityAt: at as SplInput['sensitivityAt'],
          powerWatt: power.value,
          drivers: Math.max(1, Math.round(drivers.value)),
          distanceMetre: distance.value,
          ...(impedance.value === undefined ? {} : { nominalOhm: impedance.value }),
        };
  const usable = input !== undefined && (at === '1W' || impedance.value !== undefined) ? input : undefined;
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[19rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <div className="grid grid-cols-2 gap-3">
          <QuantityField label="Sensitivity" unit="dB" draft={sensitivity} />
          <ChoiceField
            label="at 1 m, with"
            value={at as SplInput['sensitivityAt']}
            choices={[
              { value: '1W', label: '1 W' },
              { value: '2.83V', label: '2.83 V' },
            ]}
            onChange={setAt}
          />
          {at === '2.83V' && <QuantityField label="Nominal impedance" unit="ohm" draft={impedance} />}
          <QuantityField label="Power in all" unit="W" draft={power} />
          <QuantityField label="Drivers" unit="step" draft={drivers} />
          <QuantityField label="Distance" unit="m" draft={distance} />
        </div>
        <QuantityField label="Measured there (if any)" unit="dB" draft={measured} hint="sound level meter, C or Z weighting" />
      </div>
      {usable === undefined ? (
        <p className="text-quiet">Enter sensitivity, power, drivers and distance.</p>
      ) : (
        <Level input={usable} {...(measured.value === undefined ? {} : { measuredDb: measured.value })} />
      )}
    </div>
  );
}

function Level({ input, measuredDb }: { input: SplInput; measuredDb?: number }): JSX.Element {
  const { splDb, perDriverWatt } = spl(input);
  const { powerWatt = 1, drivers = 1, distanceMetre = 1 } = input;
  const doubled: [string, SplInput][] = [
    ['twice the power', { ...input, powerWatt: 2 * powerWatt }],
    ['twice the drivers, the same power in all', { ...input, drivers: 2 * drivers }],
    ['twice the drivers, each with the same power', { ...input, drivers: 2 * drivers, powerWatt: 2 * powerWatt }],
    ['twice the distance', { ...input, distanceMetre: 2 * distanceMetre }],
  ];
  return (
    <div className="min-w-0 space-y-6" aria-live="polite">
      <div className="flex flex-wrap gap-x-12 gap-y-4">
        <BigFigure
          label="In the open, in phase"
          value={formatQuantity(splDb, 'dB')}
          note={`${formatQuantity(perDriverWatt, 'W')} in each driver`}
        />
        {measuredDb !== undefined && (
          <BigFigure label="Measured" value={formatQuantity(measuredDb, 'dB')} note={measuredWords(measuredDb - splDb)} />
        )}
      </div>
      <section aria-label="What doubling brings" className="max-w-xl">
        <h2 className="text-sm font-semibold">What doubling brings</h2>
        <ul className="divide-line border-line mt-2 divide-y border-y">
          {doubled.map(([words, changed]) => (
            <li key={words} className="grid min-h-11 grid-cols-[minmax(0,1fr)_5rem_6rem] items-center gap-3">
              <span>{words}</span>
              <span className="text-right font-semibold">{signedDb(spl(changed).splDb - splDb)}</span>
              <span className="text-quiet text-right">{formatQuantity(spl(changed).splDb, 'dB')}</span>
            </li>
          ))}
        </ul>
        <p className="text-quiet mt-3 text-sm leading-snug">
          Three decibels are just heard as louder, ten as about twice as loud. A closed cabin lifts deep bass above this figure, and power
          compression and a rise of impedance take some away.
        </p>
      </section>
      {splDb > LOUD_DB && (
        <Caution>
          Above {LOUD_DB} dB a tone that lasts harms hearing within minutes: protect your ears, keep to short bursts, stay out of the car.
        </Caution>
      )}
    </div>
  );
}

function measuredWords(difference: number): string {
  const size = signedDb(difference);
  if (Math.abs(difference) <= 3) return `${size}: as the data sheet says`;
  if (difference > 0) return `${size}: the cabin and the enclosure help`;
  return `${size}: look for a reversed driver, less power than thought, or a filter in the way`;
}
