export { PolarityBody } from './polarity/Body.tsx';
export { DelayBody } from './delay/Body.tsx';
