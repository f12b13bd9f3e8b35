export * from './demo/demoTunes.ts';
export * from './instruments.ts';
export * from './vehicle.ts';
export * from './load.ts';
export * from './factoryUnit.ts';
export * from './source.ts';
export * from './standingFilters.ts';
export * from './waveform.ts';
