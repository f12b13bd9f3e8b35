export { BoxBody } from './box/Body.tsx';
export { CoilsBody } from './coils/Body.tsx';
export { HookupBody } from './hookup/Body.tsx';
export { LoadFacts } from './kit/LoadFacts.tsx';
export { OhmBench } from './kit/OhmBench.tsx';
export { WholeBody } from './whole/Body.tsx';
