import type { FigureTable } from '../../../findings/codes.ts';
import type { Action, Finding } from '../../../findings.ts';
import type { LoadTrace } from '../../../job/records.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { tracesAt, type Situation } from '../../frame/situation.ts';
import { staleReasons } from '../../frame/staleness.ts';
import type { Step } from '../../frame/stepKind.ts';
import { ONSET_STEP_DB } from '../../frame/traceFinding.ts';
import { PROOF_STANDS_ON } from '../proof/judge.ts';
import { gainReadings } from '../../frame/gainReadings.ts';

/** The newest captures at one knob, without and with the load. */
export interface PairCaptures {
  off?: LoadTrace;
  on?: LoadTrace;
}

/** Those that still speak of the present set-up: one that does not is no half of a pair. */
export function pairCaptures(step: Step<'load-pair', ChannelNow>, now: Situation): PairCaptures {
  const turned = gainReadings(now, step.channel.id).at(-1)?.takenAt ?? '';
  const newest = (load: 'off' | 'on'): LoadTrace | undefined =>
    tracesAt(now, step.id, 'load')
      .filter(({ conditions, takenAt }) => {
        const isPresent = staleReasons(PROOF_STANDS_ON, conditions, loadConditions(step, now, load)).length === 0;
        return conditions.load === load && isPresent && takenAt >= turned;
      })
      .at(-1);
  const [off, on] = [newest('off'), newest('on')];
  return { ...(off === undefined ? {} : { off }), ...(on === undefined ? {} : { on }) };
}

const clippingOf = (trace: LoadTrace | undefined) => trace?.analysis.channels[trace.channelIndex]?.clipping;
const isFlat = (verdict: string | undefined): boolean => verdict === 'onset' || verdict === 'clipped';

/** What two captures at one knob show: tops that flatten under the load alone are its current or a supply that gives way. */
export function captureFindings({ off, on }: PairCaptures): Finding[] {
  const [without, withLoad] = [clippingOf(off), clippingOf(on)];
  if (without === undefined || withLoad === undefined) return [];
  const figures = { withoutLoad: without.verdict, withLoad: withLoad.verdict };
  if (isFlat(without.verdict)) {
    return [
      {
        code: 'flat-without-load',
        grade: 'attention',
        figures,
        action: turnDown(without.estimatedOverdriveDb),
      },
    ];
  }
  if (without.verdict !== 'clean') return [unclear(figures)];
  if (withLoad.verdict === 'clean') {
    return [{ code: 'clean-both-ways', grade: 'good', figures }];
  }
  if (!isFlat(withLoad.verdict)) return [unclear(figures)];
  const byDb = downBy(withLoad.estimatedOverdriveDb);
  return [
    {
      code: 'flat-under-load-only',
      grade: 'attention',
      figures: { ...figures, byDb },
      action: turnDown(withLoad.estimatedOverdriveDb),
    },
  ];
}

/** Down by what the wave was driven too far; a first flattening wants a small step. */
const downBy = (overdriveDb: number | undefined): number => Math.max(ONSET_STEP_DB, overdriveDb ?? 0);
const turnDown = (overdriveDb: number | undefined): Action => ({ kind: 'turn-gain', byDb: -downBy(overdriveDb) });

const unclear = (figures: FigureTable['pair-captures-unclear']): Finding => ({
  code: 'pair-captures-unclear',
  grade: 'note',
  figures,
  action: { kind: 'capture', judged: 'tone' },
});
