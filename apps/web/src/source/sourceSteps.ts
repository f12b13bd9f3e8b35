// Everything that the steps of source and processor show, as one chunk.
export { ProcessorBench } from '../bench/ProcessorBench.tsx';
export { SourceBench } from '../bench/SourceBench.tsx';
export { SweepBench } from '../bench/SweepBench.tsx';
export { CeilingStep } from './CeilingStep.tsx';
export { FactoryStep } from './FactoryStep.tsx';
export { FlatStep } from './FlatStep.tsx';
export { InputStep } from './InputStep.tsx';
export { OutputStep } from './OutputStep.tsx';
export { SourceFacts } from './SourceFacts.tsx';
