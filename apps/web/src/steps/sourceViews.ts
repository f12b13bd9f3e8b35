// Everything that the steps of source and processor show, as one chunk.
export { CeilingBody } from './ceiling/Body.tsx';
export { SourceBench } from './ceiling/Bench.tsx';
export { FactoryBody } from './factory/Body.tsx';
export { SweepBench } from './factory/Bench.tsx';
export { FlatBody } from './flat/Body.tsx';
export { SourceFacts } from './flat/SourceFacts.tsx';
export { InputBody } from './input/Body.tsx';
export { ProcessorBench } from './kit/ProcessorBench.tsx';
export { OutputBody } from './output/Body.tsx';
export { OutputWhy } from './output/After.tsx';
export { FeedBody } from './feed/Body.tsx';
