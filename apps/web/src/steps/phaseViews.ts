export { PolarityBody } from './polarity/Body.tsx';
export { DelayBody } from './delay/Body.tsx';
export { MeetingBody } from './meeting/Body.tsx';
export { MeetingBench } from './meeting/Bench.tsx';
export { PolarityBench } from './polarity/Bench.tsx';
