import { useMemo, type JSX } from 'react';
import { useDesk, type Desk } from './deskDraft.ts';
import { DeskInputs } from './DeskInputs.tsx';
import type { PlannerSubject } from './useWiring.ts';
import { WiringPlanner } from './WiringPlanner.tsx';

/** The planner on its own, without a tune. */
export function PlannerTool(): JSX.Element {
  const desk = useDesk();
  const subject = useDeskSubject(desk);
  if (desk.drivers.length === 0) {
    return (
      <div className="max-w-sm space-y-4">
        <DeskInputs desk={desk} />
        <p className="text-quiet">Enter a coil impedance to see every way to wire it.</p>
      </div>
    );
  }
  return <WiringPlanner subject={subject} inputs={<DeskInputs desk={desk} />} />;
}

export function useDeskSubject({ drivers, planAmplifier, terminalPairs }: Desk): PlannerSubject {
  return useMemo(
    () => ({
      draftKey: 'desk',
      title: 'Wiring',
      drivers,
      driverNames: new Map(
        drivers.map(({ name, ratedPowerWatt }) => [name, ratedPowerWatt === undefined ? 'driver' : `driver, ${ratedPowerWatt} W`]),
      ),
      amplifier: planAmplifier,
      terminalPairs,
      amplifierWords: planAmplifier.mode,
    }),
    [drivers, planAmplifier, terminalPairs],
  );
}
