import type { Finding } from '../../../findings.ts';
import type { Chain } from '../../../job/chain.ts';
import { toneInput } from '../../../job/source.ts';
import { voltageRatioDb } from '../../../levels/decibels.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { sourceSettingsNow } from '../../frame/played.ts';
import type { Situation } from '../../frame/situation.ts';
import type { CeilingCurve, CeilingSubject } from './curves.ts';
import { isFound, lowestOf } from './workingVolume.ts';

export function assumedFinding({ source }: Chain): Finding[] {
  if (source.volumeBasis === 'measured') return [];
  return [
    {
      code: 'volume-assumed',
      grade: 'note',
      figures: { workingVolume: source.workingVolume, volumeSteps: source.volumeSteps },
    },
  ];
}

/** The working volume against what was found. */
export function volumeFindings(chain: Chain, lowest: CeilingCurve | undefined): Finding[] {
  const { source } = chain;
  if (lowest?.fullScaleStep === undefined)
    return [
      {
        code: 'no-ceiling',
        grade: 'note',
        figures: {},
      },
    ];
  const { fullScaleStep, settingsCase } = lowest;
  const figures = { fullScaleStep, workingVolume: source.workingVolume };
  if (!isFound(lowest, chain)) {
    return [
      {
        code: 'clean-so-far',
        grade: 'note',
        figures,
      },
    ];
  }
  const recorded = recordedWords(lowest);
  if (source.workingVolume > fullScaleStep) {
    return [
      {
        code: 'volume-over-ceiling',
        grade: 'attention',
        figures: { ...figures, caseName: settingsCase.name, recorded },
      },
    ];
  }
  if (source.volumeBasis === 'assumed') {
    return [
      {
        code: 'volume-still-assumed',
        grade: 'note',
        figures: { ...figures, recorded },
      },
    ];
  }
  return [
    {
      code: 'volume-clean',
      grade: 'good',
      figures: { ...figures, volumeSteps: source.volumeSteps, recorded },
    },
  ];
}

/** Why rows that read clean lie above the ceiling: music goes higher than a tone that is recorded lower. */
function recordedWords({ ceiling, fullScaleStep, toneLevelDbfs }: CeilingCurve): string {
  const clean = ceiling?.maxCleanStep;
  if (clean === undefined || fullScaleStep === undefined || clean <= fullScaleStep) return '';
  return ` with music (this tone, recorded ${formatQuantity(-toneLevelDbfs, 'dB')} lower, is clean up to ${clean})`;
}

/** Two readings that cannot both be right decide no ceiling. */
export const contradictionFindings = (curves: readonly CeilingCurve[]): Finding[] =>
  curves.flatMap(({ ceiling, settingsCase, odd }): Finding[] => {
    if (odd !== undefined) {
      const { step: at, voltageRms, likelyVolt, isRepeated } = odd;
      return [
        {
          code: 'row-implausible',
          grade: 'attention',
          figures: { step: at, voltageRms, caseName: settingsCase.name, ...(likelyVolt === undefined ? {} : { likelyVolt }) },
          // Read again and alike it is no slip: then the chain, or the meter, says something else than it should.
          action: isRepeated ? { kind: 'describe', what: 'source' } : { kind: 'read', reading: 'source-voltage', unit: 'V' },
        },
      ];
    }
    const step = ceiling?.contradictsAt;
    if (step === undefined) return [];
    return [
      {
        code: 'steps-contradict',
        grade: 'attention',
        figures: { step, caseName: settingsCase.name },
        action: { kind: 'read', reading: 'source-voltage', unit: 'V' },
      },
    ];
  });

export function flatFinding(now: Situation): Finding[] {
  if (sourceSettingsNow(now) !== undefined) return [];
  const input = toneInput(now.chain.source);
  return [
    {
      code: 'flat-not-ticked',
      grade: 'note',
      figures: { input },
    },
  ];
}

/** The voltage against what the source claims, or the power of its own amplifier. */
export function claimFinding({ output }: CeilingSubject, { source }: Chain, curves: readonly CeilingCurve[]): Finding[] {
  const volt = curves[0]?.ceiling?.voltageAtCeiling;
  if (volt === undefined) return [];
  if (output === 'speakers') {
    const loadOhm = source.speakerLoadOhm;
    if (loadOhm === undefined) return [];
    const powerWatt = volt ** 2 / loadOhm;
    return [
      {
        code: 'source-power',
        grade: 'note',
        figures: { powerWatt, loadOhm },
      },
    ];
  }
  const claim = source.preampClaimVolt;
  if (claim === undefined) return [];
  const differenceDb = voltageRatioDb(volt, claim);
  const figures = { voltageRms: volt, claimVolt: claim, differenceDb };
  return [
    differenceDb < -0.5
      ? {
          code: 'claim-missed',
          grade: 'note',
          figures: { ...figures, output },
        }
      : {
          code: 'claim-met',
          grade: 'note',
          figures: { ...figures, output },
        },
  ];
}

/** Tones that clip at different steps with the same settings: something boosts a range. */
export function toneFinding(curves: readonly CeilingCurve[]): Finding[] {
  return [...new Set(curves.map(({ settingsCase }) => settingsCase.id))].flatMap((id): Finding[] => {
    const own = curves.filter((c) => c.settingsCase.id === id && c.fullScaleStep !== undefined && c.ceiling?.method !== 'not-reached');
    const low = lowestOf(own);
    const high = lowestOf(own, -1);
    if (low?.fullScaleStep === undefined || high?.fullScaleStep === undefined || high.fullScaleStep - low.fullScaleStep < 2) return [];
    return [
      {
        code: 'tone-clips-early',
        grade: 'note',
        figures: {
          toneHz: low.toneHz,
          fromStep: low.fullScaleStep + 1,
          otherHz: high.toneHz,
          otherFromStep: high.fullScaleStep + 1,
          caseName: low.settingsCase.name,
        },
      },
    ];
  });
}

/** What a raised sub level takes from the volume. */
export function subFinding(curves: readonly CeilingCurve[]): Finding[] {
  const flat = curves.find(({ settingsCase, fullScaleStep }) => (settingsCase.subNotches ?? 0) === 0 && fullScaleStep !== undefined);
  if (flat?.fullScaleStep === undefined) return [];
  const flatStep = flat.fullScaleStep;
  return curves.flatMap((curve): Finding[] => {
    const notches = curve.settingsCase.subNotches ?? 0;
    // Where the bass is up as well, nobody can say which of the two costs what.
    if (notches === 0 || curve.settingsCase.bassRaised === true || curve.fullScaleStep === undefined || curve.toneHz !== flat.toneHz)
      return [];
    const steps = flatStep - curve.fullScaleStep;
    if (steps <= 0) return [];
    const at = (step: number): number | undefined => flat.rows.find((row) => row.step === step)?.voltageRms;
    const [high, low] = [at(flatStep), at(curve.fullScaleStep)];
    const db = high === undefined || low === undefined ? undefined : voltageRatioDb(high, low);
    return [
      {
        code: 'sub-level-costs',
        grade: 'note',
        figures: { steps, notches, ...(db === undefined ? {} : { costDb: db }), caseName: curve.settingsCase.name },
      },
    ];
  });
}
