import type { Action, Finding } from '../../../findings.ts';
import type { SettingsCase } from '../../../job/chain.ts';
import type { LineConditions } from '../../../job/conditions.ts';
import { casesAt } from '../../../job/source.ts';
import { lineConditions } from '../../frame/played.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { stepId, type Situation } from '../../frame/situation.ts';
import { upstreamLook, type UpstreamLook } from '../../frame/upstream.ts';
import { ceilingTables, type CeilingCurve, type CeilingSubject, type CeilingTables } from './curves.ts';
import { assumedFinding, claimFinding, contradictionFindings, flatFinding, subFinding, toneFinding, volumeFindings } from './findings.ts';
import { foundVolume, isFound, isOwnOutput, lowestOf, workingVolume, type WorkingVolume } from './workingVolume.ts';

export interface CeilingFigures extends CeilingTables {
  /** the lowest ceiling among the used cases of all outputs */
  working?: WorkingVolume;
}

/** Where finding the ceiling at one output stands. */
export function judgeCeiling(subject: CeilingSubject, now: Situation): Judgement<CeilingFigures> {
  const { chain } = now;
  const tables = ceilingTables(now, subject);
  const working = workingVolume(now);
  const figures: CeilingFigures = { ...tables, ...(working === undefined ? {} : { working }) };
  const used = tables.curves.filter(({ settingsCase, rows }) => settingsCase.used && rows.length > 0);
  const read: Action = { kind: 'read', reading: 'source-voltage', unit: 'V' };
  if (used.length === 0 && tables.staleReasons.length > 0) {
    const next = 'Raise the volume again with the present settings.';
    return { status: 'stale', figures, action: read, findings: [staleFinding('The volume table', tables.staleReasons, next)] };
  }
  if (used.length === 0) return { status: 'open', figures, action: read, findings: assumedFinding(chain) };
  const own = lowestOf(used);
  const missing = casesAt(chain.source, subject.output).filter(
    ({ id, used: isUsed }) => isUsed && !used.some(({ settingsCase }) => settingsCase.id === id),
  );
  const contradictions = contradictionFindings(used);
  const findings = [
    ...contradictions,
    // Of readings against each other alone nothing is said of the volume.
    ...(own === undefined && contradictions.length > 0 ? [] : volumeFindings(chain, own)),
    ...missing.map(({ id, name }): Finding => ({
      code: 'case-missing',
      grade: 'note',
      figures: { caseId: id, caseName: name },
    })),
    ...flatFinding(now),
    ...claimFinding(subject, chain, tables.curves),
    ...toneFinding(tables.curves),
    ...subFinding(tables.curves),
  ];
  const isOver = findings.some(({ grade }) => grade === 'attention' || grade === 'stop');
  // A look at another tone, for a channel that distorts, asks for no table of its own unless it was dirty.
  const isAside = (curve: CeilingCurve): boolean =>
    curve.toneHz !== subject.toneHz && used.some(({ toneHz }) => toneHz === subject.toneHz) && !isDirtyFromBelow(curve);
  const complete = missing.length === 0 && used.every((curve) => isAside(curve) || isFound(curve, chain));
  const set = own !== undefined && chain.source.volumeBasis === 'measured';
  const status = isOver ? 'out-of-tolerance' : complete && set ? 'done' : 'open';
  if (status === 'done') return { status, figures, findings };
  // Captures decide the table: below a dirty one the next lower step is captured until one is clean.
  if (used.some(isDirtyFromBelow)) return { status, figures, findings, action: CAPTURE };
  const odd = contradictions.find(({ code }) => code === 'row-implausible');
  if (complete && used.some((curve) => isWorthConfirming(curve, now))) return { status, figures, findings, action: CAPTURE };
  return { status, figures, findings, action: odd?.action ?? (complete ? takeVolume(now, read) : read) };
}

const CAPTURE: Action = { kind: 'capture', judged: 'tone' };

/** Behind the source's own amplifier a step that is given away is given away for good: nothing makes up for it. */
const isWorthConfirming = ({ isUnconfirmed, ceiling, rows, output, settingsCase }: CeilingCurve, { chain }: Situation): boolean => {
  // Told from voltages alone, the ceiling may lie a step higher.
  const isByVolts = ceiling?.method === 'compression' && rows.every(({ traceId }) => traceId === undefined);
  return (isUnconfirmed === true || isByVolts) && settingsCase.used && isOwnOutput(chain, output);
};

function takeVolume(now: Situation, otherwise: Action): Action {
  const found = foundVolume(now);
  return found === undefined ? otherwise : { kind: 'set-volume', to: found.workingVolume, unit: 'step', source: { ...found } };
}

/** A capture was dirty, and none below it was taken. */
const isDirtyFromBelow = ({ ceiling, rows }: CeilingCurve): boolean =>
  ceiling !== undefined &&
  ceiling.maxCleanStep === undefined &&
  (ceiling.firstDirtyStep ?? 0) > 0 &&
  rows.some(({ step, thdPercent }) => step === ceiling.firstDirtyStep && thdPercent !== undefined);

/** The row that is read next: the first case without a ceiling, a step further up, or down where nothing clean was found. */
export function ceilingConditions(subject: CeilingSubject, now: Situation): LineConditions {
  const { source } = now.chain;
  const curves = ceilingTables(now, subject).curves.filter(({ toneHz }) => toneHz === subject.toneHz);
  const wanted = curves.find((curve) => curve.settingsCase.used && !isFound(curve, now.chain)) ?? curves[0];
  const caseId = (wanted?.settingsCase ?? casesAt(source, subject.output)[0] ?? ({ id: 'flat' } as SettingsCase)).id;
  const contradicts = wanted?.odd?.step ?? wanted?.ceiling?.contradictsAt;
  const rows = wanted?.rows ?? [];
  const [lowest, highest] = [rows[0]?.step, rows.at(-1)?.step];
  const isDirtyFromStart = wanted?.ceiling !== undefined && wanted.ceiling.maxCleanStep === undefined;
  // A capture goes on down with the tone and in the case that were dirty.
  const dirty = ceilingTables(now, subject).curves.find((curve) => curve.settingsCase.used && isDirtyFromBelow(curve));
  if (contradicts === undefined && dirty?.ceiling?.firstDirtyStep !== undefined)
    return {
      ...lineConditions(now, dirty.toneHz, subject.toneLevelDbfs),
      caseId: dirty.settingsCase.id,
      sourceVolume: dirty.ceiling.firstDirtyStep - 1,
    };
  const look = upstreamLookAt(now, subject);
  if (look !== undefined) return { ...lineConditions(now, look.toneHz, subject.toneLevelDbfs), caseId, sourceVolume: source.workingVolume };
  const next =
    lowest === undefined || highest === undefined ? Math.ceil(source.volumeSteps / 2) : isDirtyFromStart ? lowest - 1 : highest + 1;
  // Only once every case has its ceiling: before, the row that is read next is another case's.
  const isAllFound = contradicts === undefined && curves.every((curve) => isFound(curve, now.chain));
  const last = isAllFound ? curves.find((curve) => isWorthConfirming(curve, now)) : undefined;
  const doubtful = last?.isUnconfirmed === true ? source.volumeSteps : (last?.ceiling?.maxCleanStep ?? source.volumeSteps) + 1;
  const step = contradicts ?? (last === undefined ? next : doubtful);
  return {
    ...lineConditions(now, subject.toneHz, subject.toneLevelDbfs),
    caseId: last?.settingsCase.id ?? caseId,
    sourceVolume: Math.max(0, Math.min(source.volumeSteps, step)),
  };
}

/** Where a channel's distortion is looked for at this output of the source, at the working volume. */
const upstreamLookAt = (now: Situation, { output }: CeilingSubject): UpstreamLook | undefined =>
  now.chain.channels.map((channel) => upstreamLook(now, channel)).find((look) => look?.at === stepId('ceiling', output));
