export { PolarityBody } from './polarity/Body.tsx';
export { DelayBody } from './delay/Body.tsx';
export { MeetingBody } from './meeting/Body.tsx';
