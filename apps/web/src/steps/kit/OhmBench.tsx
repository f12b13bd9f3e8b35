import { LOAD_FAULTS, probedOhm, simulatedOhmmeter, type LoadFault, type OhmProbe } from '@yield/bench';
import { coilWords, meteredCoils, seededRandom } from '@yield/core';
import { useEffect, useState, type JSX } from 'react';
import type { ViewProps } from '../view.ts';
import { MeterDisplay } from './MeterDisplay.tsx';

const FAULT_WORDS: Record<LoadFault, string> = {
  none: 'as drawn',
  'one-coil-only': 'one coil only',
  'driver-missing': 'the last driver left out',
  open: 'a jumper missing',
  short: 'a strand across the terminals',
};

/** The made-up vehicle's coils under an ohmmeter, with the mistakes that people make. */
export function OhmBench({ run, current }: ViewProps<'coils' | 'whole'>): JSX.Element {
  const { step } = current;
  const { tune } = run;
  const coils = step.kind === 'coils' ? meteredCoils(run.now, step.channel) : [];
  const [coil, setCoil] = useState<string | null>(null);
  const [fault, setFault] = useState<LoadFault>('none');
  const [touched, setTouched] = useState(false);
  const next = coils.find(({ reading }) => reading === undefined)?.name ?? coils[0]?.name ?? '';
  const coilName = coil ?? next;
  const probe: OhmProbe = step.kind === 'coils' ? { kind: 'coil', name: coilName } : { kind: 'whole', fault };
  const ohm = touched ? 0 : probedOhm(step.channel, tune.id, probe);
  const [display, setDisplay] = useState('OL');
  useEffect(() => {
    let live = true;
    const meter = simulatedOhmmeter(() => ohm, tune.settings.meter, seededRandom(`${tune.id}/ohmmeter`));
    void meter.read().then((shown) => (live ? setDisplay(shown.display) : undefined));
    return () => {
      live = false;
    };
  }, [ohm, tune.settings.meter, tune.id]);
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">A made-up vehicle with these drivers, to practise on. Amplifier disconnected.</p>
      <MeterDisplay display={display} range="Meter, ohms" sign="Ω" />
      {step.kind === 'coils' ? (
        <label className="mt-3 block">
          <span className="label">Probes on coil</span>
          <select className="select mt-1 min-h-11 w-full" value={coilName} onChange={(event) => setCoil(event.target.value)}>
            {coils.map((coil) => (
              <option key={coil.name} value={coil.name}>
                {coilWords(coil, coils)}
              </option>
            ))}
          </select>
        </label>
      ) : (
        <label className="mt-3 block">
          <span className="label">The wiring is</span>
          <select className="select mt-1 min-h-11 w-full" value={fault} onChange={(event) => setFault(event.target.value as LoadFault)}>
            {LOAD_FAULTS.map((kind) => (
              <option key={kind} value={kind}>
                {FAULT_WORDS[kind]}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="mt-2 flex min-h-11 cursor-pointer items-center gap-2.5">
        <input
          type="checkbox"
          className="checkbox checkbox-primary"
          checked={touched}
          onChange={(event) => setTouched(event.target.checked)}
        />
        probes touched together
      </label>
    </section>
  );
}
