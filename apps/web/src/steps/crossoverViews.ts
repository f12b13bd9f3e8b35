// What the steps about filters show, as one chunk.
export { BandwidthBody } from './bandwidth/Body.tsx';
export { CrossoverBody } from './crossover/Body.tsx';
export { FilterBench } from './crossover/Bench.tsx';
export { FiltersBody } from './filters/Body.tsx';
export { LoadPairBody } from './load-pair/Body.tsx';
