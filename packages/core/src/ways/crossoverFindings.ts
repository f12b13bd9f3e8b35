import { safeCorner } from '../crossovers/safeCorner.ts';
import type { Finding } from '../findings.ts';
import { passiveCornerHz, passiveOrder } from '../crossovers/passive.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { Chain, DriverRole } from '../job/chain.ts';
import { KIND_NAMES, PLACE_NAMES } from '../job/channelFilters.ts';
import { amplifierOf, targetPower } from '../job/targetPower.ts';
import {
  crossingOf,
  likeName,
  likeVoices,
  NOTHING_PROVED,
  voiceDb,
  voicesOf,
  workingFilter,
  type LikeVoices,
  type ProvedFilters,
  type Voice,
} from './voices.ts';

/** A finding, and which channels it speaks of. */
export interface ChannelFinding extends Finding {
  channelIds: string[];
}

/** Where a tweeter's range begins when nobody wrote it down. Common practice, no source. */
const USUAL_TWEETER_FROM_HZ = 2000;
/** One octave below its range a tweeter has to be this much down: a first-order filter at the range's begin is 7 dB down there. */
const LEAST_PROTECTION_DB = -5.5;

/** Two filters of one kind closer than this work on the same corner. */
const SAME_CORNER_OCTAVES = 1;
/** Level where two neighbours meet: usual crossovers lie between −3 and −6 dB. */
const GAP_DB = -9;
const OVERLAP_DB = -1.5;
/** Half an octave or so of rounding in a range is no fault. */
const RANGE_SLACK = 1.02;

/** From the bottom up. A full-range driver stands alone above a subwoofer. */
export const ROLE_ORDER: readonly DriverRole[] = ['subwoofer', 'woofer', 'midrange', 'tweeter'];

/** Whether a tweeter is kept from bass, by whatever stands in its way. */
export function isProtected(voice: Voice, proved: ProvedFilters = NOTHING_PROVED): boolean {
  const from = Math.min(...voice.drivers.map(({ usableFromHz }) => usableFromHz ?? USUAL_TWEETER_FROM_HZ));
  return voiceDb(voice, from / 2, proved) <= LEAST_PROTECTION_DB;
}

/** Power that a voice gets at full scale over what it is rated for; 1 where it is not known. */
export function powerShare(chain: Chain, voice: Voice): number {
  const amplifier = amplifierOf(chain, voice.channel);
  const power = amplifier === undefined ? undefined : targetPower(amplifier, voice.channel);
  return power?.kind === 'known' ? Math.min(1, power.powerWatt / power.driversWatt) : 1;
}

/** Every channel's step asks for the findings of the same chain. */
const KEPT = new WeakMap<Chain, ChannelFinding[]>();

/** What is wrong with the crossovers of a chain as they are set, or as they were measured. */
export function crossoverFindings(chain: Chain, proved: ProvedFilters = NOTHING_PROVED): ChannelFinding[] {
  if (proved !== NOTHING_PROVED) return found(chain, proved);
  const kept = KEPT.get(chain) ?? found(chain, proved);
  KEPT.set(chain, kept);
  return kept;
}

function found(chain: Chain, proved: ProvedFilters): ChannelFinding[] {
  const like = likeVoices(voicesOf(chain));
  return [
    ...like.flatMap((voice) => [
      ...protectionFindings(voice, proved),
      ...orderFindings(voice, proved),
      ...twiceFindings(voice, proved),
      ...rangeFindings(chain, voice, proved),
      ...subsonicFindings(voice, proved),
      ...partFindings(voice),
    ]),
    ...neighbours(like).flatMap(([lower, upper]) => neighbourFindings(lower, upper, proved)),
  ];
}

const of = ({ members }: LikeVoices): string[] => [...new Set(members.map(({ channel }) => channel.id))];

function protectionFindings(voice: LikeVoices, proved: ProvedFilters): ChannelFinding[] {
  if (voice.role !== 'tweeter') return [];
  if (!isProtected(voice, proved)) {
    return [
      {
        code: 'bare-tweeter',
        grade: 'stop',
        figures: { voiceId: voice.id },
        words: `${likeName(voice)}: this tweeter has no protection from bass.`,
        next: 'Fit its capacitor or set a high-pass filter before playing any tone. If the capacitor was removed or bridged, refit it.',
        channelIds: of(voice),
      },
    ];
  }
  const hasCapacitor = voice.passive.some((parts) => parts.kind === 'highpass' && passiveOrder(parts) > 0);
  return hasCapacitor
    ? []
    : [
        {
          code: 'tweeter-by-setting',
          grade: 'note',
          figures: { voiceId: voice.id },
          words: `${likeName(voice)}: only a filter setting protects this tweeter.`,
          next: 'A reset or wrong preset removes it. A capacitor in the line stays.',
          channelIds: of(voice),
        },
      ];
}

function orderFindings(voice: LikeVoices, proved: ProvedFilters): ChannelFinding[] {
  const corners = (kind: 'highpass' | 'lowpass'): number[] => [
    ...voice.filters.filter((f) => f.kind === kind).map((f) => workingFilter(f, proved).cornerHz),
    ...voice.passive.filter((p) => p.kind === kind).flatMap((p) => passiveCornerHz(p, voice.impedance) ?? []),
  ];
  const [highest, lowest] = [Math.max(...corners('highpass')), Math.min(...corners('lowpass'))];
  if (!(highest >= lowest)) return [];
  return [
    {
      code: 'corners-crossed',
      grade: 'attention',
      figures: { voiceId: voice.id, highpassHz: highest, lowpassHz: lowest },
      words: `${likeName(voice)}: the high-pass at ${formatQuantity(highest, 'Hz')} is above the low-pass at ${formatQuantity(lowest, 'Hz')}: almost nothing passes.`,
      next: 'Change one of the two corners.',
      channelIds: of(voice),
    },
  ];
}

/** The same filter twice in a row, such as in source and amplifier: the slopes add. */
function twiceFindings(voice: LikeVoices, proved: ProvedFilters): ChannelFinding[] {
  const all = [
    ...voice.filters.map((filter) => ({ ...workingFilter(filter, proved), where: PLACE_NAMES[filter.place].toLowerCase() })),
    ...voice.passive.flatMap((parts) => {
      const cornerHz = passiveCornerHz(parts, voice.impedance);
      return cornerHz === undefined ? [] : [{ kind: parts.kind, order: passiveOrder(parts), cornerHz, where: 'passive parts' }];
    }),
  ];
  return all.flatMap((first, i) =>
    all
      .slice(i + 1)
      .filter(({ kind, cornerHz }) => kind === first.kind && Math.abs(Math.log2(cornerHz / first.cornerHz)) < SAME_CORNER_OCTAVES)
      .map((second): ChannelFinding => {
        const middle = Math.sqrt(first.cornerHz * second.cornerHz);
        return {
          code: 'filter-twice',
          grade: 'attention',
          figures: { voiceId: voice.id, firstHz: first.cornerHz, secondHz: second.cornerHz },
          words: `${likeName(voice)}: two ${KIND_NAMES[first.kind].toLowerCase()} filters in a row, ${first.where} and ${second.where}: their slopes add to ${6 * (first.order + second.order)} dB per octave, ${formatQuantity(voiceDb(voice, middle, proved), 'dB')} at ${formatQuantity(middle, 'Hz')}.`,
          next: 'Switch one off unless you want the steeper slope.',
          channelIds: of(voice),
        };
      }),
  );
}

function rangeFindings(chain: Chain, voice: LikeVoices, proved: ProvedFilters): ChannelFinding[] {
  const share = powerShare(chain, voice);
  const findings: ChannelFinding[] = [];
  const add = (code: string, hertz: number, words: string, next: string): void =>
    void findings.push({ code, grade: 'attention', figures: { voiceId: voice.id, hertz }, words, next, channelIds: of(voice) });
  for (const set of voice.filters) {
    const filter = workingFilter(set, proved);
    for (const driver of voice.drivers) {
      const safe = safeCorner(driver, filter.kind, filter.order, share);
      // A subsonic filter lies below the range on purpose.
      if (safe.kind === 'unknown' || (voice.role === 'subwoofer' && filter.kind === 'highpass')) continue;
      const corner = `${KIND_NAMES[filter.kind].toLowerCase()} at ${formatQuantity(filter.cornerHz, 'Hz')}`;
      const limit = formatQuantity(safe.limitHz, 'Hz');
      if (filter.kind === 'highpass' && filter.cornerHz * RANGE_SLACK < safe.limitHz) {
        const other = voice.filters.some(
          (f) => f.id !== set.id && f.kind === 'highpass' && workingFilter(f, proved).cornerHz >= safe.limitHz,
        );
        // What the amplifier is set to passes on to a tweeter only what its own parts let through.
        const behindParts = voice.passive.some(
          (parts) => parts.kind === 'highpass' && (passiveCornerHz(parts, voice.impedance) ?? 0) * RANGE_SLACK >= safe.limitHz,
        );
        if (!other && !behindParts)
          add(
            'highpass-too-low',
            safe.limitHz,
            `${likeName(voice)}: the ${corner} is too low for ${driver.name}: ${safe.why}.`,
            `Set ${limit} or more.`,
          );
      }
      if (filter.kind === 'lowpass' && filter.cornerHz > safe.limitHz * RANGE_SLACK) {
        add(
          'lowpass-too-high',
          safe.limitHz,
          `${likeName(voice)}: the ${corner} is too high for ${driver.name}: ${safe.why}.`,
          `Set ${limit} or less.`,
        );
      }
    }
  }
  const driver = voice.drivers.find(({ usableFromHz }) => usableFromHz !== undefined);
  const hasHighpass = [...voice.filters, ...voice.passive].some(({ kind }) => kind === 'highpass');
  if (driver?.usableFromHz !== undefined && !hasHighpass && voice.role !== 'subwoofer' && voice.role !== 'tweeter') {
    add(
      'no-highpass',
      driver.usableFromHz,
      `${likeName(voice)}: no filter keeps frequencies below ${formatQuantity(driver.usableFromHz, 'Hz')} from ${driver.name}.`,
      'Set a high-pass: below its range a driver moves a lot for little output.',
    );
  }
  return findings;
}

function subsonicFindings(voice: LikeVoices, proved: ProvedFilters): ChannelFinding[] {
  const tuningHz = voice.drivers.find((driver) => driver.tuningHz !== undefined)?.tuningHz;
  if (voice.role !== 'subwoofer' || tuningHz === undefined || voiceDb(voice, tuningHz / 2, proved) < -6) return [];
  return [
    {
      code: 'no-subsonic',
      grade: 'attention',
      figures: { voiceId: voice.id, tuningHz },
      words: `${likeName(voice)}: no subsonic filter below the enclosure’s tuning at ${formatQuantity(tuningHz, 'Hz')}.`,
      next: `Below tuning a port no longer controls the cone. Set a high-pass near ${formatQuantity(SUBSONIC_SHARE * tuningHz, 'Hz')}.`,
      channelIds: of(voice),
    },
  ];
}

/** Where a subsonic filter goes, against the tuning. Common practice, no source. */
export const SUBSONIC_SHARE = 0.8;

function partFindings(voice: LikeVoices): ChannelFinding[] {
  return voice.passive
    .filter((parts) => passiveOrder(parts) === 0)
    .map(({ kind }) => ({
      code: 'parts-without-filter',
      grade: 'attention',
      figures: { voiceId: voice.id },
      words: `${likeName(voice)}: the passive ${KIND_NAMES[kind].toLowerCase()} has no series part, so it does nothing.`,
      next: kind === 'highpass' ? 'Enter its capacitor.' : 'Enter its inductor.',
      channelIds: of(voice),
    }));
}

/** Voices next to each other in the order of their roles. */
export function neighbours(like: readonly LikeVoices[]): [LikeVoices, LikeVoices][] {
  const pairs: [LikeVoices, LikeVoices][] = [];
  const present = ROLE_ORDER.filter((role) => like.some((voice) => voice.role === role));
  present.forEach((role, i) => {
    const above = present[i + 1];
    for (const lower of like.filter((voice) => voice.role === role)) {
      for (const upper of like.filter((voice) => voice.role === above && above !== undefined)) pairs.push([lower, upper]);
      if (role === 'subwoofer') for (const upper of like.filter((voice) => voice.role === 'full-range')) pairs.push([lower, upper]);
    }
  });
  return pairs;
}

function neighbourFindings(lower: LikeVoices, upper: LikeVoices, proved: ProvedFilters): ChannelFinding[] {
  const names = `${likeName(lower)} and ${likeName(upper)}`;
  const channelIds = [...new Set([...of(lower), ...of(upper)])];
  const crossing = crossingOf(lower, upper, proved);
  if (crossing === undefined || crossing.levelDb > OVERLAP_DB) {
    return [
      {
        code: 'ways-overlap',
        grade: 'attention',
        figures: { lowerId: lower.id, upperId: upper.id },
        words: `${names} overlap: ${crossing === undefined ? 'no filter separates them' : `both play at full level at ${formatQuantity(crossing.hertz, 'Hz')}`}.`,
        next: 'Set a low-pass on the lower and a matching high-pass on the upper.',
        channelIds,
      },
    ];
  }
  if (crossing.levelDb < GAP_DB) {
    return [
      {
        code: 'ways-gap',
        grade: 'attention',
        figures: { lowerId: lower.id, upperId: upper.id, hertz: crossing.hertz, levelDb: crossing.levelDb },
        words: `Between ${names} there is a gap: both are ${formatQuantity(-crossing.levelDb, 'dB')} down at ${formatQuantity(crossing.hertz, 'Hz')}.`,
        next: 'Bring the two corners closer together.',
        channelIds,
      },
    ];
  }
  return Math.abs(crossing.phaseDeg) > 135
    ? [
        {
          code: 'ways-oppose',
          grade: 'attention',
          figures: { lowerId: lower.id, upperId: upper.id, hertz: crossing.hertz, phaseDeg: crossing.phaseDeg },
          words: `${names} work against each other: ${Math.round(Math.abs(crossing.phaseDeg))}° apart at ${formatQuantity(crossing.hertz, 'Hz')}, the sum is ${formatQuantity(crossing.sumDb, 'dB')}.`,
          next: 'Reverse one of the two: swap plus and minus.',
          channelIds,
        },
      ]
    : [];
}
