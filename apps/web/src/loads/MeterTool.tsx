import { coilsOf, diagnoseReading, isOverload, networkText, otherWirings, OVERLOAD_OHM, whyMeterReadsLess } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { QuantityField } from '../ui/QuantityField.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { useQuantityDraft } from '../ui/useDraft.ts';
import { useDesk } from './deskDraft.ts';
import { DriverRows } from './DeskInputs.tsx';
import { DiagnosisFigures, DiagnosisView } from './DiagnosisView.tsx';
import { useDeskSubject } from './PlannerTool.tsx';
import { useWiring } from './useWiring.ts';

/** The ohmmeter's figure across the wiring that is chosen on the desk. */
export function MeterTool(): JSX.Element {
  const desk = useDesk();
  const leads = useQuantityDraft('desk/leads', 'ohm', '0.2', -1e-9);
  const percent = useQuantityDraft('desk/meter-percent', '%', '1', -1e-9);
  const digits = useQuantityDraft('desk/meter-digits', 'ohm', '0.1', -1e-9);
  const reading = useQuantityDraft('desk/meter', 'ohm', '', -1e-9);
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[21rem_minmax(0,1fr)]">
      <div className="panel space-y-5 self-start">
        <DriverRows desk={desk} />
        <section aria-label="Meter" className="grid grid-cols-3 gap-2">
          <h2 className="col-span-3 font-semibold">Meter</h2>
          <QuantityField label="Its leads" unit="ohm" draft={leads} />
          <QuantityField label="Accuracy" unit="%" draft={percent} />
          <QuantityField label="and" unit="ohm" draft={digits} />
          <p className="text-quiet col-span-3 text-sm leading-snug">Touch the probes together: what the meter shows then are its leads.</p>
        </section>
      </div>
      {desk.drivers.length === 0 ? (
        <p className="text-quiet">Enter the impedance of a coil first.</p>
      ) : (
        <Judged
          desk={desk}
          leadOhm={leads.value ?? 0}
          meterPercent={percent.value ?? 1}
          meterDigitsOhm={digits.value ?? 0.1}
          reading={reading}
        />
      )}
    </div>
  );
}

function Judged({
  desk,
  leadOhm,
  meterPercent,
  meterDigitsOhm,
  reading,
}: {
  desk: ReturnType<typeof useDesk>;
  leadOhm: number;
  meterPercent: number;
  meterDigitsOhm: number;
  reading: ReturnType<typeof useQuantityDraft>;
}): JSX.Element {
  const { wiring } = useWiring(useDeskSubject(desk), undefined);
  const { drivers } = desk;
  if (wiring.network === undefined) {
    return (
      <p className="text-quiet">
        The wiring on the desk is not closed.{' '}
        <Link to="/loads/wiring" className="text-action font-medium">
          Look at it
        </Link>
        , then meter it.
      </p>
    );
  }
  const text = networkText(wiring.network);
  const overload = isOverload(reading.text);
  const meterOhm = overload ? OVERLOAD_OHM : reading.value;
  const judge = (ohm: number) =>
    diagnoseReading({
      coils: coilsOf(drivers),
      intendedNetwork: text,
      meterOhm: ohm,
      leadOhm,
      meterPercent,
      meterDigitsOhm,
      otherWirings: () => otherWirings(drivers),
    });
  const expected = judge(0).expectedOhm;
  const judged = meterOhm === undefined ? {} : { diagnosis: judge(meterOhm), meterOhm };
  return (
    <div className="min-w-0 space-y-6">
      <p>
        Wired as <span className="font-semibold break-all">{text}</span>.{' '}
        <Link to="/loads/wiring" className="text-action font-medium hover:underline">
          Choose another
        </Link>
      </p>
      <div className="grid items-end gap-x-8 gap-y-3 sm:grid-cols-[minmax(0,15rem)_minmax(0,1fr)]">
        <QuantityField
          label="Meter reads across the whole"
          unit="ohm"
          draft={overload ? { text: reading.text, setText: reading.setText } : reading}
          hint="as shown, leads and all; or OL"
        />
        <DiagnosisFigures expected={expected} leadOhm={leadOhm} {...judged} />
      </div>
      <DiagnosisView expected={expected} {...judged} />
      <Reveal summary="Why a 4 Ω coil reads 3.something">
        <div className="max-w-prose space-y-2 leading-snug">
          <p>{whyMeterReadsLess(drivers[0]?.coilOhm ?? 4)}</p>
          <p>
            Meters disagree at such low figures, and leads of a few tenths of an ohm matter: take the leads off, measure one coil alone, and
            predict the whole from it.
          </p>
        </div>
      </Reveal>
    </div>
  );
}
