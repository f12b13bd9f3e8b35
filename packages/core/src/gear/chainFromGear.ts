import type { Amplifier, Chain, Channel, Driver, EqualiserAtHand, Processor, Source } from '../job/chain.ts';
import { sensibleWiring } from '../job/sensibleWiring.ts';
import { planCrossovers } from '../ways/crossoverPlan.ts';

/** Gear that was picked for a vehicle, with how many of each driver. */
export interface PickedGear {
  source?: Source;
  processor?: Processor;
  amplifiers: readonly Amplifier[];
  drivers: readonly { driver: Driver; count: number }[];
  equaliser?: EqualiserAtHand;
}

/**
 * A chain of gear: a bass channel for each kind of subwoofer, a left and a right one for every other driver, each on the first amplifier that
 * has a channel left for it, its coils wired for the most power that the amplifier takes, and the filters that its drivers ask for.
 *
 * A proposal: names, terminals, wirings and filters are the tuner's to change. What finds no amplifier is left out.
 *
 * @param newId - gives an id that is not in use
 * @returns the chain, and the drivers that no channel was left for
 */
export function chainFromGear(picked: PickedGear, empty: Chain, newId: () => string): { chain: Chain; left: string[] } {
  const amplifiers = picked.amplifiers.map((amplifier) => ({ ...amplifier, id: newId() }));
  const rooms = amplifiers.flatMap(roomsOf);
  const channels: Channel[] = [];
  const left: string[] = [];
  for (const { driver, count } of picked.drivers) {
    const isBass = driver.role === 'subwoofer';
    const groups = isBass ? [Array.from({ length: count }, () => driver)] : sidesOf(driver, count);
    for (const [k, drivers] of groups.entries()) {
      const room = takeRoom(rooms, isBass);
      if (room === undefined) {
        left.push(driver.name);
        continue;
      }
      const side = groups.length === 2 ? (k === 0 ? ' left' : ' right') : '';
      channels.push(channelOf({ room, drivers, isBass, name: `${driver.name}${side}`, id: newId(), newId }));
    }
  }
  const { processor } = picked;
  const bare: Chain = {
    ...empty,
    ...(picked.source === undefined ? {} : { source: picked.source }),
    ...(processor === undefined ? {} : { processor }),
    amplifiers,
    channels: channels.map((channel, k) => {
      const output = processor?.outputs[k];
      return output === undefined ? channel : { ...channel, processorOutputId: output.id };
    }),
    ...(picked.equaliser === undefined ? {} : { equaliserAtHand: picked.equaliser }),
  };
  // Nobody has confirmed them: the run asks for that before it lets a tone through.
  return { chain: planCrossovers(bare).chain, left: [...new Set(left)] };
}

interface Room {
  amplifier: Amplifier;
  mode: Channel['mode'];
  terminals: string;
}

/** An amplifier's channels, as many as it says; a stereo one that does not by its name, in pairs of A, B and C. */
function roomsOf(amplifier: Amplifier): Room[] {
  const modes = new Set(amplifier.ratings.map(({ mode }) => mode));
  if (modes.has('mono')) {
    const { channelCount: count = 1 } = amplifier;
    return Array.from({ length: count }, (_, k): Room => ({ amplifier, mode: 'mono', terminals: count === 1 ? 'out' : `out ${k + 1}` }));
  }
  const pairs = Math.max(1, Math.round((amplifier.channelCount ?? channelsNamed(amplifier.name)) / 2));
  return Array.from({ length: pairs }, (_, k) => String.fromCharCode('A'.charCodeAt(0) + k)).flatMap((pair): Room[] => [
    { amplifier, mode: 'stereo', terminals: `${pair} left` },
    { amplifier, mode: 'stereo', terminals: `${pair} right` },
  ]);
}

const WORDS: Readonly<Record<string, number>> = { two: 2, four: 4, five: 5, six: 6, eight: 8 };

/** "Four-channel, 4 × 60 W" names four; an amplifier that names none has two. */
function channelsNamed(name: string): number {
  const figure = /(\d+)\s*[×x]\s*\d/.exec(name)?.[1] ?? /(\d+)[ -]channel/i.exec(name)?.[1];
  const word = /\b(two|four|five|six|eight)[ -]channel/i.exec(name)?.[1];
  return figure !== undefined ? Number(figure) : word === undefined ? 2 : (WORDS[word.toLowerCase()] ?? 2);
}

/** A mono channel for bass where there is one, a stereo one for everything else. */
function takeRoom(rooms: Room[], isBass: boolean): Room | undefined {
  const wanted = rooms.findIndex(({ mode }) => (mode === 'mono') === isBass);
  const at = wanted === -1 && isBass ? rooms.findIndex(({ mode }) => mode === 'stereo') : wanted;
  return at === -1 ? undefined : rooms.splice(at, 1)[0];
}

/** One alone plays in the middle; more are shared out to both sides. */
const sidesOf = (driver: Driver, count: number): Driver[][] =>
  count === 1
    ? [[driver]]
    : [Array.from({ length: Math.ceil(count / 2) }, () => driver), Array.from({ length: Math.floor(count / 2) }, () => driver)];

function channelOf(of: { room: Room; drivers: Driver[]; isBass: boolean; name: string; id: string; newId: () => string }): Channel {
  const { room, drivers, isBass, name, id, newId } = of;
  const { amplifier, mode, terminals } = room;
  const own = drivers.map((driver, k) => ({
    ...driver,
    id: newId(),
    name: drivers.length === 1 ? driver.name : `${driver.name} ${k + 1}`,
  }));
  const plain: Channel = {
    id,
    name,
    amplifierId: amplifier.id,
    mode,
    terminals,
    band: isBass ? 'bass' : 'full-range',
    loadOhm: own[0]!.coilOhm,
    drivers: own,
  };
  return { ...plain, ...sensibleWiring(plain, amplifier) };
}
