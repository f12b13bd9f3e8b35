import { nearestSetting } from '../crossovers/dial.ts';
import type { FilterFamily, FilterKind } from '../crossovers/filters.ts';
import { twoWayParts } from '../crossovers/passive.ts';
import { safeCorner, type SafeCorner } from '../crossovers/safeCorner.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { ActiveFilter, Chain, Channel, DriverRole, FilterPlace, PassiveFilter } from '../job/chain.ts';
import { crossoverFindings, powerShare, ROLE_ORDER, SUBSONIC_SHARE, type ChannelFinding } from './crossoverFindings.ts';
import { gearOf, ROLE_NAMES } from '../job/channelFilters.ts';
import { driverGroupsOf, type DriverGroup } from './driverGroups.ts';

/** How crossovers are wished for, where the gear leaves a choice. */
export interface PlanWish {
  family: FilterFamily;
  order: number;
}

export const USUAL_WISH: PlanWish = { family: 'linkwitz-riley', order: 4 };

export interface CrossoverPlan {
  /** the chain with the proposed filters in place of those before */
  chain: Chain;
  /** one line for each corner, and the reason */
  reasons: { text: string; why: string }[];
  /** what is still to be said of the proposal */
  findings: ChannelFinding[];
}

/** Where neighbours usually meet when nobody wrote down what they can do. Common practice, no source. */
const USUAL_CORNER_HZ: Record<string, number> = {
  'subwoofer/woofer': 80,
  'subwoofer/full-range': 80,
  'subwoofer/midrange': 120,
  'subwoofer/tweeter': 120,
  'woofer/midrange': 350,
  'woofer/tweeter': 3000,
  'midrange/tweeter': 3500,
};
const USUAL_HZ = 1000;
/** Above this a subwoofer in the boot is heard as being there. Common practice, no source. */
const MAX_SUBWOOFER_HZ = 100;

/**
 * Proposes every filter of a chain from its drivers' roles, ranges and power: where each pair of neighbours meets, a subsonic
 * filter for a ported subwoofer, a high-pass for whatever is lowest.
 *
 * A processor's filters come before an amplifier's, an amplifier's before the source's; drivers that share a channel get passive
 * parts. A dial's own slope and its nearest click are taken as they are.
 */
export function planCrossovers(chain: Chain, wish: PlanWish = USUAL_WISH): CrossoverPlan {
  if (wish !== USUAL_WISH) return planned(chain, wish);
  const kept = KEPT.get(chain) ?? planned(chain, wish);
  KEPT.set(chain, kept);
  return kept;
}

/** Every channel's gate asks for the usual plan of the same chain. */
const KEPT = new WeakMap<Chain, CrossoverPlan>();

function planned(chain: Chain, wish: PlanWish): CrossoverPlan {
  const groups = driverGroupsOf(bare(chain));
  const plan = new Proposal(chain, wish);
  const roles = ROLE_ORDER.filter((role) => groups.some((group) => group.role === role));
  const ofRole = (role: DriverRole): DriverGroup[] => groups.filter((group) => group.role === role);
  roles.forEach((role, i) => {
    const above = roles[i + 1];
    if (above !== undefined) plan.cross(role, ofRole(role), above, ofRole(above));
  });
  const fullRange = ofRole('full-range');
  const subwoofers = ofRole('subwoofer');
  if (fullRange.length > 0 && subwoofers.length > 0) plan.cross('subwoofer', subwoofers, 'full-range', fullRange);
  subwoofers.forEach((group) => plan.subsonic(group));
  const lowest = roles[0];
  if (lowest !== undefined && lowest !== 'subwoofer') ofRole(lowest).forEach((group) => plan.bottom(group));
  if (subwoofers.length === 0) fullRange.forEach((group) => plan.bottom(group));
  return plan.done();
}

/** The chain as if no filter were set yet; drivers of one channel still part by their roles. */
function bare(chain: Chain): Chain {
  return {
    ...chain,
    channels: chain.channels.map(({ filters: _filters, passive: _passive, isReversed: _reversed, ...channel }) => channel),
  };
}

class Proposal {
  private readonly chain: Chain;
  private readonly wish: PlanWish;
  private readonly channels: Map<string, Channel>;
  private readonly reasons: CrossoverPlan['reasons'] = [];
  private readonly turned = new Map<string, boolean>();

  constructor(chain: Chain, wish: PlanWish) {
    this.chain = chain;
    this.wish = wish;
    this.channels = new Map(bare(chain).channels.map((channel) => [channel.id, channel]));
  }

  /** Lets two neighbours meet at one corner. */
  cross(lowerRole: DriverRole, lower: DriverGroup[], upperRole: DriverRole, upper: DriverGroup[]): void {
    const key = `${lowerRole}/${upperRole}`;
    const isShared = lower.some((a) => upper.some((b) => a.channel.id === b.channel.id));
    const order = isShared ? 2 : this.wish.order;
    const least = this.limit({ groups: upper, kind: 'highpass', order });
    const most = this.limit({ groups: lower, kind: 'lowpass', order });
    const { cornerHz, why } = meetingPoint(key, least, most);
    const names = `${ROLE_NAMES[lowerRole]} and ${ROLE_NAMES[upperRole].toLowerCase()}`;
    this.reasons.push({
      text: `${names} meet at ${formatQuantity(cornerHz, 'Hz')}${isShared ? ', by passive parts' : ''}`,
      why,
    });
    for (const group of lower) this.place(group, 'lowpass', cornerHz, isShared ? upper : []);
    const before = lower.some((group) => this.turned.get(group.id) === true);
    for (const group of upper) {
      const filter = this.place(group, 'highpass', cornerHz, isShared ? lower : []);
      // Half a turn between the two sides, at order 2 and 6.
      const turns = filter.order % 4 === 2 && lowerOrderOf(this.channels, lower) === filter.order;
      const isTurned = turns !== before;
      this.turned.set(group.id, isTurned);
      const channel = this.channels.get(group.channel.id);
      if (isTurned && channel !== undefined && !isShared) this.channels.set(channel.id, { ...channel, isReversed: true });
    }
    if (isShared)
      this.reasons.push({
        text: 'The tweeter behind its passive parts goes plus to minus',
        why: 'second-order sections are half a turn apart where they meet',
      });
  }

  /** Keeps a ported subwoofer from what lies below its tuning. */
  subsonic(group: DriverGroup): void {
    const tuningHz = group.drivers.find((driver) => driver.tuningHz !== undefined)?.tuningHz;
    if (tuningHz === undefined) return;
    const cornerHz = niceHz(SUBSONIC_SHARE * tuningHz);
    this.place(group, 'highpass', cornerHz, [], { family: 'butterworth', order: 4 });
    this.reasons.push({
      text: `${group.name}: subsonic filter at ${formatQuantity(cornerHz, 'Hz')}`,
      why: `below the enclosure’s tuning of ${formatQuantity(tuningHz, 'Hz')} the air no longer controls the cone`,
    });
  }

  /** Nothing plays below it: its own range decides. */
  bottom(group: DriverGroup): void {
    const limit = this.limit({ groups: [group], kind: 'highpass', order: this.wish.order });
    if (limit.kind === 'unknown') return;
    const cornerHz = niceHz(limit.limitHz, 'up');
    this.place(group, 'highpass', cornerHz, []);
    this.reasons.push({
      text: `${group.name}: high-pass at ${formatQuantity(cornerHz, 'Hz')}`,
      why: `nothing plays below it, and ${limit.why}`,
    });
  }

  done(): CrossoverPlan {
    const chain = { ...this.chain, channels: this.chain.channels.map(({ id }) => this.channels.get(id)!) };
    return { chain, reasons: this.reasons, findings: crossoverFindings(chain) };
  }

  private limit({ groups, kind, order }: { groups: DriverGroup[]; kind: FilterKind; order: number }): SafeCorner {
    const limits = groups.flatMap((group) =>
      group.drivers.map((driver) => safeCorner(driver, kind, order, powerShare(this.chain, group))).filter((safe) => safe.kind === 'known'),
    );
    return limits.reduce<SafeCorner>(
      (tightest, safe) => {
        if (tightest.kind === 'unknown') return safe;
        return (kind === 'highpass' ? safe.limitHz > tightest.limitHz : safe.limitHz < tightest.limitHz) ? safe : tightest;
      },
      { kind: 'unknown' },
    );
  }

  /** Puts one filter where the channel's gear has room for it. */
  private place(
    group: DriverGroup,
    kind: FilterKind,
    cornerHz: number,
    sharedWith: DriverGroup[],
    wish: PlanWish = this.wish,
  ): { order: number } {
    const channel = this.channels.get(group.channel.id)!;
    if (sharedWith.length > 0) return this.placeParts(group, channel, kind, cornerHz);
    const id = `${kind === 'highpass' ? 'hp' : 'lp'}-${channel.id}`.slice(0, 64);
    const dial = channel.processorOutputId === undefined ? dialFor(this.chain, channel, kind) : undefined;
    const place: FilterPlace = channel.processorOutputId !== undefined ? 'processor' : (dial?.place ?? 'amplifier');
    const filter: ActiveFilter =
      dial === undefined
        ? { id, place, kind, family: wish.family, order: wish.order, cornerHz }
        : { id, place, kind, ...dial.settingFor(cornerHz) };
    this.channels.set(channel.id, { ...channel, filters: [...(channel.filters ?? []), filter] });
    return filter;
  }

  private placeParts(group: DriverGroup, channel: Channel, kind: FilterKind, cornerHz: number): { order: number } {
    const { resistanceOhm } = group.impedance;
    const parts = twoWayParts({ order: 2, alignment: 'linkwitz-riley', cornerHz, lowerOhm: resistanceOhm, upperOhm: resistanceOhm })[kind];
    // Second-order sections are half a turn apart: the upper driver goes the other way round.
    const turned = kind === 'highpass' ? { isReversed: true } : {};
    const placed = group.drivers.map((driver): PassiveFilter => ({
      ...parts,
      ...turned,
      id: `${kind === 'highpass' ? 'hp' : 'lp'}-${driver.id}`.slice(0, 64),
      driverId: driver.id,
    }));
    this.channels.set(channel.id, { ...channel, passive: [...(channel.passive ?? []), ...placed] });
    return { order: 2 };
  }
}

function lowerOrderOf(channels: ReadonlyMap<string, Channel>, lower: readonly DriverGroup[]): number | undefined {
  return lower[0] && channels.get(lower[0].channel.id)?.filters?.find(({ kind }) => kind === 'lowpass')?.order;
}

/** A dial of the amplifier, else of the source, that turns this kind of filter. */
function dialFor(chain: Chain, channel: Channel, kind: FilterKind) {
  for (const place of ['amplifier', 'source'] as const) {
    const dial = gearOf(chain, channel, place)?.dials?.find((each) => each.kind === kind);
    if (dial === undefined) continue;
    return {
      place,
      settingFor: (wishedHz: number) => {
        const { click = 0, multiplier = 1, cornerHz = wishedHz } = nearestSetting(dial, wishedHz) ?? {};
        return { family: dial.family, order: dial.order, cornerHz, dial: { id: dial.id, click, multiplier } };
      },
    };
  }
  return undefined;
}

/** Between what the upper one takes and what the lower one still plays, near the usual place. */
function meetingPoint(key: string, least: SafeCorner, most: SafeCorner): { cornerHz: number; why: string } {
  const usual = USUAL_CORNER_HZ[key] ?? USUAL_HZ;
  const isSubwoofer = key.startsWith('subwoofer/');
  if (least.kind === 'unknown' && most.kind === 'unknown') {
    return { cornerHz: usual, why: 'a usual place to begin: enter the drivers’ ranges for a better one' };
  }
  const lowHz = least.kind === 'known' ? least.limitHz : 0;
  const easyHz = least.kind === 'known' ? least.easyHz : 0;
  const highHz = most.kind === 'known' ? most.limitHz : Infinity;
  const words = [
    ...(least.kind === 'known' ? [`the upper one wants ${formatQuantity(lowHz, 'Hz')} or more, ${least.why}`] : []),
    ...(most.kind === 'known' ? [`the lower one goes to ${formatQuantity(highHz, 'Hz')}, ${most.why}`] : []),
  ].join('; ');
  if (lowHz > highHz)
    return { cornerHz: niceHz(lowHz, 'up'), why: `their ranges do not overlap, so the upper driver is protected: ${words}` };
  // With room, the easy margin; else between the two limits.
  const wanted = isSubwoofer ? Math.max(lowHz, Math.min(usual, MAX_SUBWOOFER_HZ)) : Math.max(usual, Math.min(easyHz, highHz));
  const cornerHz = Math.min(Math.max(wanted, lowHz), highHz);
  return { cornerHz: niceHz(cornerHz, cornerHz === highHz ? 'down' : cornerHz === lowHz ? 'up' : 'near'), why: words };
}

/** Figures that one would set. */
const NICE = [1, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6, 1.8, 2, 2.2, 2.4, 2.5, 2.6, 2.8, 3, 3.2, 3.5, 4, 4.5, 5, 5.5, 6, 6.5, 7, 7.5, 8, 9];

/** A corner as one would set it, next to the one wanted. */
function niceHz(hertz: number, towards: 'up' | 'down' | 'near' = 'near'): number {
  const decade = 10 ** Math.floor(Math.log10(hertz));
  const steps = [decade, 10 * decade].flatMap((each) => NICE.map((figure) => Number((figure * each).toPrecision(3))));
  // A limit that is a nice figure itself stays: a hair of rounding is no reason to go a step further.
  const above = steps.find((step) => step >= hertz * (1 - 1e-9))!;
  const below = steps.findLast((step) => step <= hertz * (1 + 1e-9))!;
  if (towards !== 'near') return towards === 'up' ? above : below;
  return hertz / below < above / hertz ? below : above;
}
