import { safeCorner } from '../crossovers/safeCorner.ts';
import type { Finding } from '../findings.ts';
import { passiveCornerHz, passiveOrder } from '../crossovers/passive.ts';
import type { Chain, DriverRole } from '../job/chain.ts';
import { PLACE_NAMES } from '../job/channelFilters.ts';
import { amplifierOf, targetPower } from '../job/targetPower.ts';
import {
  crossingOf,
  groupName,
  alikeGroups,
  NOTHING_PROVED,
  groupDb,
  driverGroupsOf,
  workingFilter,
  type AlikeGroups,
  type ProvedFilters,
  type DriverGroup,
} from './driverGroups.ts';

/** A finding, and which channels it speaks of. */
export type ChannelFinding = Finding & { channelIds: string[] };

/** Where a tweeter's range begins when nobody wrote it down. Common practice, no source. */
const USUAL_TWEETER_FROM_HZ = 2000;
/** One octave below its range a tweeter has to be this much down: a first-order filter at the range's begin is 7 dB down there. */
const MIN_PROTECTION_DB = -5.5;

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
export function isProtected(group: DriverGroup, proved: ProvedFilters = NOTHING_PROVED): boolean {
  const from = Math.min(...group.drivers.map(({ usableFromHz }) => usableFromHz ?? USUAL_TWEETER_FROM_HZ));
  return groupDb(group, from / 2, proved) <= MIN_PROTECTION_DB;
}

/** Power that a driver group gets at full scale over what it is rated for; 1 where it is not known. */
export function powerShare(chain: Chain, group: DriverGroup): number {
  const amplifier = amplifierOf(chain, group.channel);
  const power = amplifier === undefined ? undefined : targetPower(amplifier, group.channel);
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
  const like = alikeGroups(driverGroupsOf(chain));
  return [
    ...like.flatMap((group) => [
      ...protectionFindings(group, proved),
      ...orderFindings(group, proved),
      ...twiceFindings(group, proved),
      ...rangeFindings(chain, group, proved),
      ...subsonicFindings(group, proved),
      ...partFindings(group),
    ]),
    ...neighbours(like).flatMap(([lower, upper]) => neighbourFindings(lower, upper, proved)),
  ];
}

const of = ({ members }: AlikeGroups): string[] => [...new Set(members.map(({ channel }) => channel.id))];

function protectionFindings(group: AlikeGroups, proved: ProvedFilters): ChannelFinding[] {
  if (group.role !== 'tweeter') return [];
  if (!isProtected(group, proved)) {
    return [
      {
        code: 'bare-tweeter',
        grade: 'stop',
        figures: { groupId: group.id, name: groupName(group) },
        channelIds: of(group),
      },
    ];
  }
  const hasCapacitor = group.passive.some((parts) => parts.kind === 'highpass' && passiveOrder(parts) > 0);
  return hasCapacitor
    ? []
    : [
        {
          code: 'tweeter-by-setting',
          grade: 'note',
          figures: { groupId: group.id, name: groupName(group) },
          channelIds: of(group),
        },
      ];
}

function orderFindings(group: AlikeGroups, proved: ProvedFilters): ChannelFinding[] {
  const corners = (kind: 'highpass' | 'lowpass'): number[] => [
    ...group.filters.filter((f) => f.kind === kind).map((f) => workingFilter(f, proved).cornerHz),
    ...group.passive.filter((p) => p.kind === kind).flatMap((p) => passiveCornerHz(p, group.impedance) ?? []),
  ];
  const [highest, lowest] = [Math.max(...corners('highpass')), Math.min(...corners('lowpass'))];
  if (!(highest >= lowest)) return [];
  return [
    {
      code: 'corners-crossed',
      grade: 'attention',
      figures: { groupId: group.id, highpassHz: highest, lowpassHz: lowest, name: groupName(group) },
      channelIds: of(group),
    },
  ];
}

/** The same filter twice in a row, such as in source and amplifier: the slopes add. */
function twiceFindings(group: AlikeGroups, proved: ProvedFilters): ChannelFinding[] {
  const all = [
    ...group.filters.map((filter) => ({ ...workingFilter(filter, proved), where: PLACE_NAMES[filter.place].toLowerCase() })),
    ...group.passive.flatMap((parts) => {
      const cornerHz = passiveCornerHz(parts, group.impedance);
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
          figures: {
            groupId: group.id,
            firstHz: first.cornerHz,
            secondHz: second.cornerHz,
            name: groupName(group),
            kind: first.kind,
            where: first.where,
            otherWhere: second.where,
            order: first.order,
            otherOrder: second.order,
            levelDb: groupDb(group, middle, proved),
            hertz: middle,
          },
          channelIds: of(group),
        };
      }),
  );
}

function rangeFindings(chain: Chain, group: AlikeGroups, proved: ProvedFilters): ChannelFinding[] {
  const share = powerShare(chain, group);
  const findings: ChannelFinding[] = [];
  const name = groupName(group);
  for (const set of group.filters) {
    const filter = workingFilter(set, proved);
    for (const driver of group.drivers) {
      const safe = safeCorner(driver, filter.kind, filter.order, share);
      // A subsonic filter lies below the range on purpose.
      if (safe.kind === 'unknown' || (group.role === 'subwoofer' && filter.kind === 'highpass')) continue;
      const figures = { groupId: group.id, hertz: safe.limitHz, name, driverName: driver.name, cornerHz: filter.cornerHz, why: safe.why };
      if (filter.kind === 'highpass' && filter.cornerHz * RANGE_SLACK < safe.limitHz) {
        const other = group.filters.some(
          (f) => f.id !== set.id && f.kind === 'highpass' && workingFilter(f, proved).cornerHz >= safe.limitHz,
        );
        // What the amplifier is set to passes on to a tweeter only what its own parts let through.
        const behindParts = group.passive.some(
          (parts) => parts.kind === 'highpass' && (passiveCornerHz(parts, group.impedance) ?? 0) * RANGE_SLACK >= safe.limitHz,
        );
        if (!other && !behindParts) findings.push({ code: 'highpass-too-low', grade: 'attention', figures, channelIds: of(group) });
      }
      if (filter.kind === 'lowpass' && filter.cornerHz > safe.limitHz * RANGE_SLACK) {
        findings.push({ code: 'lowpass-too-high', grade: 'attention', figures, channelIds: of(group) });
      }
    }
  }
  const driver = group.drivers.find(({ usableFromHz }) => usableFromHz !== undefined);
  const hasHighpass = [...group.filters, ...group.passive].some(({ kind }) => kind === 'highpass');
  if (driver?.usableFromHz !== undefined && !hasHighpass && group.role !== 'subwoofer' && group.role !== 'tweeter') {
    findings.push({
      code: 'no-highpass',
      grade: 'attention',
      figures: { groupId: group.id, hertz: driver.usableFromHz, name, driverName: driver.name },
      channelIds: of(group),
    });
  }
  return findings;
}

function subsonicFindings(group: AlikeGroups, proved: ProvedFilters): ChannelFinding[] {
  const tuningHz = group.drivers.find((driver) => driver.tuningHz !== undefined)?.tuningHz;
  if (group.role !== 'subwoofer' || tuningHz === undefined || groupDb(group, tuningHz / 2, proved) < -6) return [];
  return [
    {
      code: 'no-subsonic',
      grade: 'attention',
      figures: { groupId: group.id, tuningHz, name: groupName(group), highpassHz: SUBSONIC_SHARE * tuningHz },
      channelIds: of(group),
    },
  ];
}

/** Where a subsonic filter goes, against the tuning. Common practice, no source. */
export const SUBSONIC_SHARE = 0.8;

function partFindings(group: AlikeGroups): ChannelFinding[] {
  return group.passive
    .filter((parts) => passiveOrder(parts) === 0)
    .map(({ kind }) => ({
      code: 'parts-without-filter',
      grade: 'attention',
      figures: { groupId: group.id, name: groupName(group), kind },
      channelIds: of(group),
    }));
}

/** DriverGroups next to each other in the order of their roles. */
export function neighbours(like: readonly AlikeGroups[]): [AlikeGroups, AlikeGroups][] {
  const pairs: [AlikeGroups, AlikeGroups][] = [];
  const present = ROLE_ORDER.filter((role) => like.some((group) => group.role === role));
  present.forEach((role, i) => {
    const above = present[i + 1];
    for (const lower of like.filter((group) => group.role === role)) {
      for (const upper of like.filter((group) => group.role === above && above !== undefined)) pairs.push([lower, upper]);
      if (role === 'subwoofer') for (const upper of like.filter((group) => group.role === 'full-range')) pairs.push([lower, upper]);
    }
  });
  return pairs;
}

function neighbourFindings(lower: AlikeGroups, upper: AlikeGroups, proved: ProvedFilters): ChannelFinding[] {
  const channelIds = [...new Set([...of(lower), ...of(upper)])];
  const crossing = crossingOf(lower, upper, proved);
  if (crossing === undefined || crossing.levelDb > OVERLAP_DB) {
    return [
      {
        code: 'ways-overlap',
        grade: 'attention',
        figures: {
          lowerId: lower.id,
          upperId: upper.id,
          lowerName: groupName(lower),
          upperName: groupName(upper),
          ...(crossing === undefined ? {} : { hertz: crossing.hertz }),
        },
        channelIds,
      },
    ];
  }
  if (crossing.levelDb < GAP_DB) {
    return [
      {
        code: 'ways-gap',
        grade: 'attention',
        figures: {
          lowerId: lower.id,
          upperId: upper.id,
          hertz: crossing.hertz,
          levelDb: crossing.levelDb,
          lowerName: groupName(lower),
          upperName: groupName(upper),
        },
        channelIds,
      },
    ];
  }
  return Math.abs(crossing.phaseDeg) > 135
    ? [
        {
          code: 'ways-oppose',
          grade: 'attention',
          figures: {
            lowerId: lower.id,
            upperId: upper.id,
            hertz: crossing.hertz,
            phaseDeg: crossing.phaseDeg,
            lowerName: groupName(lower),
            upperName: groupName(upper),
            sumDb: crossing.sumDb,
          },
          channelIds,
        },
      ]
    : [];
}
