import type { Chain } from './chain.ts';
import { wholePlan } from './floorPlan.ts';
import type { PlanPlace } from './planPlace.ts';

/** Ears lie so far from the middle of a head. From memory. */
const EAR_METRE = 0.09;
/** A hand's breadth: what nobody placed stands around the head so far from it. */
const HAND_METRE = 0.18;
const IN_A_ROUND = 8;

/** Where each place of the microphone is, seen from above: as it was marked, else where its name says, else around the listener's head. */
export function microphonePlaces(chain: Pick<Chain, 'channels' | 'listening'>, names: readonly string[]): Record<string, PlanPlace> {
  const { head } = wholePlan(chain);
  const marked = chain.listening?.plan?.microphones ?? {};
  const usual = (name: string, k: number): PlanPlace => {
    if (/\bleft\b/i.test(name)) return { x: head.x - EAR_METRE, y: head.y };
    if (/\bright\b/i.test(name)) return { x: head.x + EAR_METRE, y: head.y };
    if (/\b(middle|head|microphone)\b/i.test(name)) return head;
    const angle = (2 * Math.PI * k) / IN_A_ROUND;
    return { x: head.x + HAND_METRE * Math.sin(angle), y: head.y - HAND_METRE * Math.cos(angle) };
  };
  return Object.fromEntries(names.map((name, k) => [name, Object.hasOwn(marked, name) ? marked[name]! : usual(name, k)]));
}
