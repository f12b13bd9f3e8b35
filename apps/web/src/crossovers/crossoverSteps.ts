// What the steps about filters show, as one chunk.
export { FilterBench } from '../bench/FilterBench.tsx';
export { CrossoverStep } from './CrossoverStep.tsx';
export { FiltersStep } from './FiltersStep.tsx';
