import type { Action, Finding } from '../../findings.ts';
import { compareFigures } from '../../gain/meter.ts';
import { pairsOf } from '../../job/pairs.ts';
import type { LoadReading } from '../../job/records.ts';
import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import { belowPeakDb } from '../../ways/filterLoss.ts';
import { formatQuantity } from '../../units/formatQuantity.ts';
import { channelsNow, type ChannelNow } from './channels.ts';
import { once, type Situation } from './situation.ts';

const pairsNow = once((now: Situation) => pairsOf(now.chain));

/** The channel on the other side of the vehicle, as it stands now. */
export function pairNow(now: Situation, { channel }: Pick<ChannelNow, 'channel'>): ChannelNow | undefined {
  const pair = pairsNow(now).get(channel.id);
  return pair === undefined ? undefined : channelsNow(now).find((each) => each.channel.id === pair.id);
}

/** Whether it was said that the two play at different levels. */
const isMeant = ({ channel: of }: ChannelNow, { channel: pair }: ChannelNow): boolean =>
  of.differsFromPair === true || pair.differsFromPair === true || (of.blendDb ?? 0) !== (pair.blendDb ?? 0);

/** By scope a target is told from what was seen: flat somewhere, or clean as high as its drivers bear. */
const isSeen = ({ onset, band, isCleanToDrivers }: ChannelNow): boolean =>
  onset !== undefined || band !== undefined || isCleanToDrivers === true;

/** How far two sides may lie apart, and what brings them together. */
export interface PairRule {
  toleranceDb: number;
  /** @param wantedVolt - what this side is to read */
  mend: (wantedVolt: number, byDb: number) => Action;
  /** at the gain it is turned, at the proof it is looked for */
  at: 'gain' | 'proof';
}

/**
 * Left and right of a pair held against each other: what they are set for, and what was read.
 *
 * @param theirs - the other's newest reading that still counts
 */
export function pairFindings(
  of: ChannelNow,
  pair: ChannelNow,
  own: LoadReading,
  theirs: LoadReading | undefined,
  { settings: { rules, meter } }: Situation,
  { toleranceDb, mend, at }: PairRule,
): Finding[] {
  if (isMeant(of, pair)) return [];
  // Held against each other as they are under load: what each load takes off is its own.
  const [ours, others] = [loadedTarget(of), loadedTarget(pair)];
  const other = pair.channel.name;
  const isOneTone = of.toneHz === pair.toneHz && of.toneLevelDbfs === pair.toneLevelDbfs;
  // What is behind either of them changes both figures: told once, as what they are set for.
  if (ours !== undefined && others !== undefined && isOneTone) {
    const apartDb = voltageRatioDb(ours, others);
    const isOpen = theirs === undefined || (rules.gainBy === 'scope' && [of, pair].some((each) => !isSeen(each)));
    if (Math.abs(apartDb) > rules.toleranceDb) {
      return [
        {
          code: 'pair-targets-apart',
          // Until the other side was measured nobody knows whether its target stays where its plates put it.
          grade: isOpen ? 'note' : 'attention',
          figures: {
            otherId: pair.channel.id,
            apartDb,
            ownVolt: ours,
            otherVolt: others,
            channelName: of.channel.name,
            otherName: other,
            reason: whyApart(of, pair),
          },
          ...(isOpen ? {} : { action: { kind: 'describe' as const, what: 'pair' } }),
        },
      ];
    }
  }
  if (theirs === undefined || theirs.value <= 0 || own.value <= 0 || !isOneTone) return [];
  const shown = ({ value, resolution, conditions }: LoadReading, { sagDb, loss }: ChannelNow) => {
    const share = voltageFactor(-belowPeakDb(loss) - (conditions.load === 'off' ? sagDb : 0));
    return { value: value * share, resolution: resolution * share, meter };
  };
  const { same, differenceDb } = compareFigures(shown(theirs, pair), shown(own, of), true);
  const figures = { otherId: pair.channel.id, differenceDb };
  if (same || Math.abs(differenceDb) <= toleranceDb) {
    return [
      {
        code: 'pair-alike',
        grade: 'good',
        figures: { ...figures, isBelowMeter: same, ownVolt: own.value, otherVolt: theirs.value, otherName: other },
      },
    ];
  }
  const wantedOf = ({ target, sagDb }: ChannelNow, { conditions }: LoadReading): number | undefined =>
    target === undefined ? undefined : target.settingVoltage * voltageFactor(conditions.load === 'off' ? 0 : -sagDb);
  const wanted = wantedOf(of, own) ?? theirs.value;
  const theirWanted = wantedOf(pair, theirs) ?? own.value;
  // The nearer one is right as it is: the other step wants the work, and says so itself.
  if (Math.abs(voltageRatioDb(own.value, wanted)) <= Math.abs(voltageRatioDb(theirs.value, theirWanted))) {
    return [
      {
        code: 'pair-off',
        grade: 'note',
        figures: { ...figures, ownVolt: own.value, otherVolt: theirs.value, otherName: other },
      },
    ];
  }
  return [
    {
      code: 'pair-apart',
      grade: 'attention',
      figures: { ...figures, at, ownVolt: own.value, otherVolt: theirs.value, otherName: other, wantedVolt: wanted },
      action: mend(wanted, voltageRatioDb(wanted, own.value)),
    },
  ];
}

/** Under load and in the pass band: what each filter was proved to take off this tone is its own. */
const loadedTarget = ({ target, sagDb, loss }: ChannelNow): number | undefined =>
  target === undefined ? undefined : target.settingVoltage * voltageFactor(-sagDb - belowPeakDb(loss));

function whyApart(of: ChannelNow, pair: ChannelNow): string {
  if (of.channel.loadOhm !== pair.channel.loadOhm) {
    return `Their loads differ: ${formatQuantity(of.channel.loadOhm, 'ohm')} and ${formatQuantity(pair.channel.loadOhm, 'ohm')}.`;
  }
  return 'Their powers, drivers or filters differ.';
}
