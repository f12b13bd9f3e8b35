import type { HistoryRow, TuneDetail } from '@yield/contract';
import { formatQuantity, kindOfStep, OVERLOAD_OHM, type ReadingIntake } from '@yield/core';
import { provenanceWords, type Provenance } from '@yield/sheet';

/** What one entry of the record says: what was done, and what there is to say of it. */
export function rowWords({ kind, body, subject }: HistoryRow, tune: TuneDetail): { title: string; detail: string } {
  switch (kind) {
    case 'created':
      return { title: 'Tune made', detail: '' };
    case 'copied':
      return { title: 'Tune made as a copy of another one', detail: '' };
    case 'chain': {
      const count = Array.isArray(body.changes) ? body.changes.length : 0;
      return { title: 'Chain changed', detail: count === 1 ? 'one field' : `${count} fields` };
    }
    case 'tune':
      return { title: 'Name, house rules or meter changed', detail: '' };
    case 'reading':
      return { title: `Reading ${readingWords(body)}`, detail: voidedWords(tune.readings, subject) };
    case 'capture':
      return { title: `Capture ${String(body.fileName)}`, detail: voidedWords(tune.traces, subject) };
    case 'mark':
      return markWords(body as { before?: Marked; after: Marked });
    case 'void':
      return {
        title: body.of === 'trace' ? 'Capture voided' : 'Reading voided',
        detail: typeof body.reason === 'string' ? body.reason : '',
      };
    case 'counted-again':
      return { title: body.of === 'trace' ? 'Capture counted again' : 'Reading counted again', detail: '' };
    case 'judged-anew':
      return { title: 'Capture judged anew by a newer version', detail: '' };
    case 'signed':
      return {
        title: `Sheet signed, issue ${String(body.issue)}`,
        detail: [
          `by ${String(body.by)}`,
          ...(typeof body.leftOpen === 'string' && body.leftOpen !== '' ? [`left open: ${body.leftOpen}`] : []),
        ].join(', '),
      };
    case 'brought-in':
      return {
        title: body.outcome === 'restored' ? 'Brought in from an archive' : 'Imported from an archive as a copy',
        detail: isProvenance(body.provenance) ? provenanceWords(body.provenance) : '',
      };
    case 'put-away':
      return { title: 'Tune put away', detail: '' };
    case 'brought-back':
      return { title: 'Tune brought back', detail: '' };
  }
}

const isProvenance = (value: unknown): value is Provenance => typeof value === 'object' && value !== null && 'kind' in value;

function readingWords({ stepId, kind, value }: Record<string, unknown>): string {
  if (typeof value !== 'number') return '';
  if (value >= OVERLOAD_OHM) return 'OL';
  const intake = kindOfStep(String(stepId))?.intakes.find(
    (each): each is ReadingIntake => each.type === 'reading' && each.kind === String(kind),
  );
  return intake === undefined ? String(value) : formatQuantity(value, intake.unit);
}

const voidedWords = (records: readonly { id: string; voidedReason?: string }[], id: string | undefined): string => {
  const reason = records.find((each) => each.id === id)?.voidedReason;
  return reason === undefined ? '' : `void since: ${reason}`;
};

interface Marked {
  checks: readonly string[];
  values?: Readonly<Record<string, string>>;
  skippedReason?: string;
}

function markWords({ before, after }: { before?: Marked; after: Marked }): { title: string; detail: string } {
  if (after.skippedReason !== undefined) return { title: 'Step skipped', detail: after.skippedReason };
  if (before?.skippedReason !== undefined) return { title: 'Step taken up again', detail: '' };
  const added = after.checks.filter((check) => before?.checks.includes(check) !== true).length;
  const taken = (before?.checks ?? []).filter((check) => !after.checks.includes(check)).length;
  const parts = [...(added === 0 ? [] : [`${added} ticked`]), ...(taken === 0 ? [] : [`${taken} taken back`])];
  return { title: parts.length === 0 ? 'What was set was written down' : 'Ticks', detail: parts.join(', ') };
}
