import { CoreError, type Fault } from '../coreError.ts';
import { coilBounds } from '../loads/coilBounds.ts';
import { LOAD_SLACK } from '../loads/hookup.ts';
import { loadOptions, MAX_DRIVERS } from '../loads/loadOptions.ts';
import { judgeWiring } from '../loads/judgeWiring.ts';
import { canonicalText } from '../loads/network.ts';
import { readWiring } from '../loads/readWiring.ts';
import { joinsOf } from '../loads/wiring.ts';
import { OUTPUT_NAMES } from '../source/sourceControls.ts';
import { significant } from '../units/formatQuantity.ts';
import type { Amplifier, Chain, Channel } from './chain.ts';
import { channelCoils, channelDrivers, channelNetwork, wiredLoadOhm } from './channelWiring.ts';
import { filterFaults } from '../crossovers/filters.ts';
import { sourceOutputs } from './source.ts';
import { gearOf, PLACE_NAMES } from './channelFilters.ts';

/**
 * What is wrong with a chain beyond the form of its fields: references that lead nowhere, a load that no wiring of the drivers can give.
 *
 * @returns one fault for each, the pointer into the chain; empty where all is well
 */
export function chainFaults(chain: Chain): Fault[] {
  const faults: Fault[] = [];
  if (chain.source.workingVolume > chain.source.volumeSteps) {
    faults.push({
      pointer: '/source/workingVolume',
      message: `working volume must be at most the highest step, ${chain.source.volumeSteps}`,
    });
  }
  faults.push(...processorFaults(chain), ...crossoverFaults(chain));
  chain.amplifiers.forEach((amplifier, i) => {
    const { inputMinVolt, inputMaxVolt } = amplifier;
    if (inputMinVolt !== undefined && inputMaxVolt !== undefined && inputMaxVolt <= inputMinVolt) {
      faults.push({
        pointer: `/amplifiers/${i}/inputMaxVolt`,
        message: 'the least sensitive input voltage must be above the most sensitive one',
      });
    }
    faults.push(...ratingFaults(amplifier, `/amplifiers/${i}`));
  });
  chain.channels.forEach((channel, i) => {
    if (!chain.amplifiers.some(({ id }) => id === channel.amplifierId)) {
      faults.push({ pointer: `/channels/${i}/amplifierId`, message: `${channel.name} is on an amplifier that is not in the chain` });
    }
    const coils = channel.drivers.flatMap(({ coils, coilOhm }) => Array.from({ length: coils }, () => coilOhm));
    if (coils.length === 0) return;
    if (channel.wiring !== undefined) {
      faults.push(...wiringFaults(channel, `/channels/${i}`));
      return;
    }
    // What parts make of a load that nobody wired yet is told with the wiring; beside a tweeter there will be some.
    const roles = new Set(channel.drivers.map(({ role }) => role));
    if ((channel.passive !== undefined && channel.passive.length > 0) || (roles.has('tweeter') && roles.size > 1)) return;
    const load = loadFault(channel, coils);
    if (load !== undefined) faults.push({ pointer: `/channels/${i}/loadOhm`, message: load });
  });
  return faults;
}

/** A plate prints one power for a load, and none below the lowest load that it allows. */
function ratingFaults({ name, ratings, minimumStereoOhm, minimumBridgedOhm, minimumMonoOhm }: Amplifier, pointer: string): Fault[] {
  const lowest = { stereo: minimumStereoOhm, bridged: minimumBridgedOhm, mono: minimumMonoOhm };
  return ratings.flatMap(({ mode, loadOhm, powerWatt }, i): Fault[] => {
    const at = `${pointer}/ratings/${i}`;
    const twin = ratings.slice(0, i).find((other) => other.mode === mode && isSameLoad(other.loadOhm, loadOhm));
    const load = `${significant(loadOhm)} ohm ${mode}`;
    const least = lowest[mode];
    return [
      ...(twin === undefined
        ? []
        : [
            {
              pointer: `${at}/powerWatt`,
              message:
                twin.powerWatt === powerWatt
                  ? `${name}: the power into ${load} is there twice`
                  : `${name}: two powers into ${load}, ${significant(twin.powerWatt)} W and ${significant(powerWatt)} W; the plate has one`,
            },
          ]),
      ...(least !== undefined && loadOhm < least * (1 - LOAD_SLACK)
        ? [{ pointer: `${at}/loadOhm`, message: `${name}: a power into ${load}, and ${significant(least)} ohm is its lowest ${mode} load` }]
        : []),
    ];
  });
}

const isSameLoad = (a: number, b: number): boolean => Math.abs(a / b - 1) <= LOAD_SLACK;

/** Why no wiring of a channel's drivers gives its load; undefined where one does. Unlike coils, and many, are held against their bounds alone. */
function loadFault(channel: Channel, coils: readonly number[]): string | undefined {
  const { lowestOhm, highestOhm } = coilBounds(coils);
  const no = `${channel.name}: no wiring of these drivers gives ${significant(channel.loadOhm)} ohm`;
  if (channel.loadOhm < lowestOhm * (1 - LOAD_SLACK) || channel.loadOhm > highestOhm * (1 + LOAD_SLACK)) {
    return `${no}; all in parallel they are ${significant(lowestOhm)} ohm, all in series ${significant(highestOhm)} ohm`;
  }
  if (channel.drivers.length > MAX_DRIVERS || coils.length > MAX_TRIED_COILS || new Set(coils).size > 1) return undefined;
  const loads = [...new Set(loadOptions({ drivers: channelDrivers(channel) }).options.map(({ loadOhm }) => significant(loadOhm)))];
  if (loads.some((load) => isSameLoad(Number(load), channel.loadOhm))) return undefined;
  return `${no}; they give ${loads.join(', ')} ohm`;
}

/** Beyond, the wirings are too many to try at every save. */
const MAX_TRIED_COILS = 8;

/** Names that lead nowhere: an input on an output that the source does not use, a channel on an output that is not there. */
function processorFaults({ source, processor, channels }: Chain): Fault[] {
  const faults: Fault[] = [];
  const outputs = sourceOutputs(source);
  processor?.inputs.forEach(({ name, output }, i) => {
    if (!outputs.includes(output))
      faults.push({
        pointer: `/processor/inputs/${i}/output`,
        message: `${name}: the source’s ${OUTPUT_NAMES[output].toLowerCase()} is not in use; add it to the source first`,
      });
  });
  channels.forEach(({ name, processorOutputId }, i) => {
    if (processorOutputId !== undefined && processor?.outputs.some(({ id }) => id === processorOutputId) !== true)
      faults.push({ pointer: `/channels/${i}/processorOutputId`, message: `${name} is fed by an output that the processor does not have` });
  });
  return faults;
}

/** Filters that no gear has, dials that are gone, parts of a driver that is not there. */
function crossoverFaults(chain: Chain): Fault[] {
  const seen = new Set<string>();
  return chain.channels.flatMap((channel, c): Fault[] => {
    const at = `/channels/${c}`;
    const filters = (channel.filters ?? []).flatMap((filter, i): Fault[] => {
      const pointer = `${at}/filters/${i}`;
      const faults = filterFaults(filter, pointer).map((fault) => ({ ...fault, message: `${channel.name}: ${fault.message}` }));
      const gear = gearOf(chain, channel, filter.place);
      if (filter.place === 'processor' && gear === undefined) {
        faults.push({ pointer: `${pointer}/place`, message: `${channel.name}: there is no processor in this chain` });
      }
      if (filter.dial !== undefined && gear?.dials?.some(({ id }) => id === filter.dial?.id) !== true) {
        faults.push({
          pointer: `${pointer}/dial`,
          message: `${channel.name}: the ${PLACE_NAMES[filter.place].toLowerCase()} has no such dial any more; choose how this filter is set`,
        });
      }
      if (seen.has(filter.id)) faults.push({ pointer: `${pointer}/id`, message: `${channel.name}: two filters share one id` });
      seen.add(filter.id);
      return faults;
    });
    const parts = (channel.passive ?? []).flatMap(({ driverId }, i): Fault[] =>
      channel.drivers.some(({ id }) => id === driverId)
        ? []
        : [{ pointer: `${at}/passive/${i}/driverId`, message: `${channel.name}: these parts belong to a driver that is not there` }],
    );
    // Without values beside it a label would be taken for no parts at all, and the driver for a bare one.
    const valueless = (channel.passive ?? []).flatMap(({ printed, isUnknown, capacitanceFarad, inductanceHenry }, i): Fault[] =>
      (printed === undefined && isUnknown !== true) || capacitanceFarad !== undefined || inductanceHenry !== undefined
        ? []
        : [
            {
              pointer: `${at}/passive/${i}/capacitanceFarad`,
              message: `${channel.name}: enter the values that stand in for ${isUnknown === true ? 'the unknown capacitor' : 'the printed corner'}, or remove these parts`,
            },
          ],
    );
    const ranges = channel.drivers.flatMap(({ name, usableFromHz, usableToHz }, i): Fault[] =>
      usableFromHz === undefined || usableToHz === undefined || usableToHz > usableFromHz
        ? []
        : [{ pointer: `${at}/drivers/${i}/usableToHz`, message: `${name}: the range must end above where it begins` }],
    );
    return [...filters, ...parts, ...valueless, ...ranges];
  });
}

/** A chosen wiring has to fit the drivers, present the load that is written down, and work no driver against itself. */
function wiringFaults(channel: Channel, pointer: string): Fault[] {
  try {
    const network = channelNetwork(channel);
    const loadOhm = wiredLoadOhm(channel);
    if (network === undefined || loadOhm === undefined) return [];
    if (Math.abs(channel.loadOhm / loadOhm - 1) > LOAD_SLACK) {
      return [
        {
          pointer: `${pointer}/loadOhm`,
          message: `${channel.name}: the chosen wiring presents ${significant(loadOhm)} ohm, not ${significant(channel.loadOhm)} ohm`,
        },
      ];
    }
    const coils = channelCoils(channel);
    const reading = readWiring(coils, channel.wiring?.joins ?? joinsOf(network));
    if (reading.network === undefined || canonicalText(reading.network) !== canonicalText(network)) {
      return [{ pointer: `${pointer}/wiring/joins`, message: `${channel.name}: the wires drawn do not match the saved wiring` }];
    }
    return judgeWiring(reading, coils)
      .filter(({ grade }) => grade === 'stop')
      .map(({ code }) => ({
        pointer: `${pointer}/wiring/network`,
        message: `${channel.name}: ${UNSAFE_WIRING[code] ?? 'this wiring is unsafe'}`,
      }));
  } catch (error) {
    if (!(error instanceof CoreError)) throw error;
    return error.faults.map((fault) => ({ ...fault, pointer: `${pointer}${fault.pointer}` }));
  }
}

const UNSAFE_WIRING: Readonly<Record<string, string | undefined>> = {
  'dead-short': 'amplifier plus and minus are joined: a dead short',
  'coil-bridged': 'plus and minus of a coil are joined',
  'coils-oppose': 'the coils of a driver work against each other',
};
