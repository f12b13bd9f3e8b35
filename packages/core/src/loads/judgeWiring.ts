import { worstFirst, type Finding } from '../findings.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
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
        words: 'Amplifier plus and minus are joined: a dead short.',
        next: 'Remove the wire you added last. Never connect the amplifier to this.',
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
      figures: { coils: shorted.join(' ') },
      words: `${words(shorted)}: plus and minus of the coil are joined, so it makes no sound.`,
      next: 'Remove the wire that bridges it.',
    });
  }
  if (reading.kind === 'open') {
    return [
      ...findings,
      {
        code: 'no-path',
        grade: 'attention',
        figures: {},
        words: 'No closed path from amplifier plus to minus yet.',
        next: 'Join terminals until each coil is in the circuit.',
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
        words: `The coils of ${driver} work against each other: heat and almost no output.`,
        next: `Reverse one coil of ${driver}.`,
      });
      continue;
    }
    const idle = own.filter(({ name }) => reading.states.get(name) === 'open');
    if (idle.length > 0 && idle.length < own.length) {
      findings.push({
        code: 'coil-idle',
        grade: 'attention',
        figures: { driver, coils: idle.length },
        words: `${words(idle.map(({ name }) => name))} is not in the circuit: ${driver} takes only ${formatQuantity((100 * (own.length - idle.length)) / own.length, '%')} of its rated power, and loses level.`,
        next: 'Use every coil, or choose a single-coil driver.',
      });
    }
  }
  const missing = byDriver(coils).filter(({ coils: own }) => own.every(({ name }) => open.includes(name)));
  if (missing.length > 0) {
    findings.push({
      code: 'driver-idle',
      grade: 'attention',
      figures: { drivers: missing.length },
      words: `${missing.map(({ driver }) => driver).join(', ')} is not in the circuit.`,
      next: 'Connect its terminals, or remove the driver from the list.',
    });
  }
  findings.push(...turnedDrivers(reading, coils));
  if (reading.network === undefined) {
    findings.push({
      code: 'bridge-network',
      grade: 'attention',
      figures: {},
      words: 'This is a bridge network, not series and parallel groups. Yield can check it but not save it.',
      next: 'Remove the bridging wire.',
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
            words: 'Every coil is connected the right way round and gets the same power.',
          }
        : {
            code: 'shares-unlike',
            grade: 'note',
            figures: { coils: used.length },
            words: 'Every coil is connected the right way round, but they do not share the power equally.',
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
        words: 'The whole load is reversed: amplifier plus feeds the minus side.',
        next: 'This cancels bass against the other channels. Swap the two amplifier wires.',
      },
    ];
  }
  const pure = turned.filter(({ driver }) => !straight.some((other) => other.driver === driver));
  if (pure.length === 0) return [];
  return [
    {
      code: 'driver-reversed',
      grade: 'attention',
      figures: { drivers: pure.map(({ driver }) => driver).join(' ') },
      words: `${pure.map(({ driver }) => driver).join(', ')} is reversed against ${straight.map(({ driver }) => driver).join(', ')}: in one enclosure their bass cancels.`,
      next: 'Swap its plus and minus, unless the two face each other on purpose.',
    },
  ];
}
