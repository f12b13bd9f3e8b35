import { worstFirst, type Finding } from '../findings.ts';
import { byDriver, coilWords, type LoadCoil } from './drivers.ts';
import { sharesAlike } from './loadNetwork.ts';
import type { WiringReading } from './readWiring.ts';

/**
 * What is right and wrong with a drawn wiring, gravest first; the load against the amplifier is judged by `hookup`.
 *
 * @returns at least one finding
 */
export function judgeWiring(reading: WiringReading, coils: readonly LoadCoil[]): Finding[] {
  if (reading.kind === 'short') {
    return [
      {
        code: 'dead-short',
        grade: 'stop',
        figures: {},
      },
    ];
  }
  const words = (names: readonly string[]): string =>
    names
      .map((name) =>
        coilWords(
          coils.find((coil) => coil.name === name)!,
          coils,
        ),
      )
      .join(', ');
  const inState = (state: string): string[] => coils.map(({ name }) => name).filter((name) => reading.states.get(name) === state);
  const shorted = inState('shorted');
  const open = inState('open');
  const findings: Finding[] = [];
  if (shorted.length > 0) {
    findings.push({
      code: 'coil-bridged',
      grade: 'stop',
      figures: { coils: shorted.join(' '), names: words(shorted) },
    });
  }
  if (reading.kind === 'open') {
    return [
      ...findings,
      {
        code: 'no-path',
        grade: 'attention',
        figures: {},
      },
    ];
  }
  for (const { driver, coils: own } of byDriver(coils)) {
    const states = own.map(({ name }) => reading.states.get(name));
    if (states.includes('works') && states.includes('reversed')) {
      findings.push({
        code: 'coils-oppose',
        grade: 'stop',
        figures: { driver },
      });
      continue;
    }
    const idle = own.filter(({ name }) => reading.states.get(name) === 'open');
    if (idle.length > 0 && idle.length < own.length) {
      findings.push({
        code: 'coil-idle',
        grade: 'attention',
        figures: { driver, coils: idle.length, names: words(idle.map(({ name }) => name)), ownCoils: own.length },
      });
    }
  }
  const missing = byDriver(coils).filter(({ coils: own }) => own.every(({ name }) => open.includes(name)));
  if (missing.length > 0) {
    findings.push({
      code: 'driver-idle',
      grade: 'attention',
      figures: { drivers: missing.length, driverNames: missing.map(({ driver }) => driver) },
    });
  }
  findings.push(...turnedDrivers(reading, coils));
  if (reading.network === undefined) {
    findings.push({
      code: 'bridge-network',
      grade: 'attention',
      figures: {},
    });
  }
  const used = coils.map(({ name }) => reading.shares.get(name) ?? 0).filter((share) => share > 0);
  if (findings.every(({ grade }) => grade === 'note')) {
    findings.unshift(
      sharesAlike(used)
        ? {
            code: 'wiring-good',
            grade: 'good',
            figures: { coils: used.length },
          }
        : {
            code: 'shares-unlike',
            grade: 'note',
            figures: { coils: used.length },
          },
    );
  }
  return worstFirst(findings);
}

function turnedDrivers(reading: WiringReading, coils: readonly LoadCoil[]): Finding[] {
  const drivers = byDriver(coils);
  const turned = drivers.filter(({ coils: own }) => own.some(({ name }) => reading.states.get(name) === 'reversed'));
  const straight = drivers.filter(({ coils: own }) => own.some(({ name }) => reading.states.get(name) === 'works'));
  if (turned.length === 0) return [];
  if (straight.length === 0) {
    return [
      {
        code: 'all-reversed',
        grade: 'attention',
        figures: {},
      },
    ];
  }
  const pure = turned.filter(({ driver }) => !straight.some((other) => other.driver === driver));
  if (pure.length === 0) return [];
  return [
    {
      code: 'driver-reversed',
      grade: 'attention',
      figures: {
        drivers: pure.map(({ driver }) => driver).join(' '),
        driverNames: pure.map(({ driver }) => driver),
        otherNames: straight.map(({ driver }) => driver),
      },
    },
  ];
}
