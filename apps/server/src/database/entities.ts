import type { CaptureConditions, Chain, Conditions, RunSummary, TraceAnalysis, TuneSettings } from '@yield/core';
import { EntitySchema } from 'typeorm';

export interface TuneRow {
  id: string;
  name: string;
  vehicle: string;
  settings: TuneSettings;
  version: number;
  createdAt: Date;
  updatedAt: Date;
  /** put away, and can be restored */
  deletedAt: Date | null;
  /** counts up with everything that is stored of the tune */
  changes: number;
  /** what is next and what needs attention, as it was worked out last; never selected by default */
  summary: RunSummary | null;
  /** which changes, and which version of the judgement, that was of */
  summaryOf: string | null;
}

export interface ChainRow {
  tuneId: string;
  body: Chain;
  version: number;
}

/** Append-only: after the insert only the two fields of voiding are ever written. */
export interface ReadingRow {
  id: string;
  tuneId: string;
  stepId: string;
  kind: string;
  value: number;
  resolution: number;
  conditions: Conditions;
  /** by the server's clock */
  takenAt: Date;
  /** as the client's own clock had it; null of what was stored before that was kept */
  clientAt: Date | null;
  storedAt: Date;
  voidedAt: Date | null;
  voidedReason: string | null;
  /** the chain's revision that it was taken on; null of what was stored before revisions were kept */
  chainVersion: number | null;
  /** the browser that sent it, and the count of what that one sent; null where none is told */
  device: string | null;
  deviceCount: number | null;
}

export interface TraceRow {
  id: string;
  tuneId: string;
  stepId: string;
  fileName: string;
  contentType: string;
  /** the file as it came; never selected by default */
  bytes: Buffer;
  byteLength: number;
  sha256: string;
  channelIndex: number;
  fullScaleVolt: number | null;
  probe: number | null;
  analysis: TraceAnalysis;
  analysisVersion: number;
  conditions: CaptureConditions;
  /** by the server's clock */
  takenAt: Date;
  /** as the client's own clock had it; null of what was stored before that was kept */
  clientAt: Date | null;
  storedAt: Date;
  voidedAt: Date | null;
  voidedReason: string | null;
  /** the chain's revision that it was taken on; null of what was stored before revisions were kept */
  chainVersion: number | null;
  /** the browser that sent it, and the count of what that one sent; null where none is told */
  device: string | null;
  deviceCount: number | null;
}

export interface MarkRow {
  tuneId: string;
  stepId: string;
  checks: string[];
  /** canonical key of what the checks stand for */
  basis: string | null;
  basisWords: string | null;
  values: Record<string, string> | null;
  skippedReason: string | null;
  version: number;
  chainVersion: number | null;
}

const instant = (nullable = false) => ({ type: 'timestamp with time zone', precision: 3, nullable }) as const;
const stored = { type: 'timestamp with time zone', precision: 3, createDate: true } as const;

// As a floating figure: the driver gives integers of eight bytes as text, and a count is exact in either.
const sender = {
  device: { type: 'uuid', nullable: true },
  deviceCount: { type: 'double precision', nullable: true, name: 'device_count' },
} as const;

export const TuneEntity = new EntitySchema<TuneRow>({
  name: 'tune',
  columns: {
    id: { type: 'uuid', primary: true },
    name: { type: 'text' },
    vehicle: { type: 'text' },
    settings: { type: 'jsonb' },
    version: { type: 'integer', version: true },
    createdAt: { ...stored, name: 'created_at' },
    updatedAt: { type: 'timestamp with time zone', precision: 3, updateDate: true, name: 'updated_at' },
    deletedAt: { ...instant(true), name: 'deleted_at' },
    changes: { type: 'integer', default: 1 },
    summary: { type: 'jsonb', nullable: true, select: false },
    summaryOf: { type: 'text', nullable: true, select: false, name: 'summary_of' },
  },
  // Sorted and partial, which the entity cannot say: the migration makes it.
  indices: [{ name: 'tune_listed', columns: ['updatedAt', 'name'], synchronize: false }],
});

const tuneKey = { type: 'many-to-one', target: 'tune', onDelete: 'CASCADE' } as const;

export const ChainEntity = new EntitySchema<ChainRow & { tune?: TuneRow }>({
  name: 'chain',
  columns: {
    tuneId: { type: 'uuid', primary: true, name: 'tune_id' },
    body: { type: 'jsonb' },
    version: { type: 'integer', version: true },
  },
  relations: { tune: { ...tuneKey, joinColumn: { name: 'tune_id', foreignKeyConstraintName: 'chain_tune_fk' } } },
});

export const ReadingEntity = new EntitySchema<ReadingRow & { tune?: TuneRow }>({
  name: 'reading',
  columns: {
    id: { type: 'uuid', primary: true },
    tuneId: { type: 'uuid', name: 'tune_id' },
    stepId: { type: 'text', name: 'step_id' },
    kind: { type: 'text' },
    value: { type: 'double precision' },
    resolution: { type: 'double precision' },
    conditions: { type: 'jsonb' },
    takenAt: { ...instant(), name: 'taken_at' },
    clientAt: { ...instant(true), name: 'client_at' },
    storedAt: { ...stored, name: 'stored_at' },
    voidedAt: { ...instant(true), name: 'voided_at' },
    voidedReason: { type: 'text', nullable: true, name: 'voided_reason' },
    chainVersion: { type: 'integer', nullable: true, name: 'chain_version' },
    ...sender,
  },
  indices: [{ name: 'reading_tune', columns: ['tuneId', 'takenAt'] }],
  relations: { tune: { ...tuneKey, joinColumn: { name: 'tune_id', foreignKeyConstraintName: 'reading_tune_fk' } } },
});

export const TraceEntity = new EntitySchema<TraceRow & { tune?: TuneRow }>({
  name: 'trace',
  columns: {
    id: { type: 'uuid', primary: true },
    tuneId: { type: 'uuid', name: 'tune_id' },
    stepId: { type: 'text', name: 'step_id' },
    fileName: { type: 'text', name: 'file_name' },
    contentType: { type: 'text', name: 'content_type' },
    bytes: { type: 'bytea', select: false },
    byteLength: { type: 'integer', name: 'byte_length' },
    sha256: { type: 'text' },
    channelIndex: { type: 'integer', name: 'channel_index' },
    fullScaleVolt: { type: 'double precision', nullable: true, name: 'full_scale_volt' },
    probe: { type: 'double precision', nullable: true },
    analysis: { type: 'jsonb' },
    analysisVersion: { type: 'integer', name: 'analysis_version' },
    conditions: { type: 'jsonb' },
    takenAt: { ...instant(), name: 'taken_at' },
    clientAt: { ...instant(true), name: 'client_at' },
    storedAt: { ...stored, name: 'stored_at' },
    voidedAt: { ...instant(true), name: 'voided_at' },
    voidedReason: { type: 'text', nullable: true, name: 'voided_reason' },
    chainVersion: { type: 'integer', nullable: true, name: 'chain_version' },
    ...sender,
  },
  indices: [{ name: 'trace_tune', columns: ['tuneId', 'takenAt'] }],
  relations: { tune: { ...tuneKey, joinColumn: { name: 'tune_id', foreignKeyConstraintName: 'trace_tune_fk' } } },
});

export const MarkEntity = new EntitySchema<MarkRow & { tune?: TuneRow }>({
  name: 'mark',
  columns: {
    tuneId: { type: 'uuid', primary: true, name: 'tune_id' },
    stepId: { type: 'text', primary: true, name: 'step_id' },
    checks: { type: 'jsonb' },
    basis: { type: 'text', nullable: true },
    basisWords: { type: 'text', nullable: true, name: 'basis_words' },
    values: { type: 'jsonb', nullable: true },
    skippedReason: { type: 'text', nullable: true, name: 'skipped_reason' },
    chainVersion: { type: 'integer', nullable: true, name: 'chain_version' },
    version: { type: 'integer', version: true },
  },
  relations: { tune: { ...tuneKey, joinColumn: { name: 'tune_id', foreignKeyConstraintName: 'mark_tune_fk' } } },
});

export const ENTITIES = [TuneEntity, ChainEntity, ReadingEntity, TraceEntity, MarkEntity];
