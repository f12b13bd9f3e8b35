export * from './openapi.ts';
export * from './operations.ts';
export * from './problems.ts';
export * from './schemas/calculations.ts';
export * from './schemas/gear.ts';
export * from './schemas/handover.ts';
export * from './schemas/records.ts';
export { MAX_VERSION } from './schemas/fields.ts';
