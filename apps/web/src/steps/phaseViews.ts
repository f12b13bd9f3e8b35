export { PolarityBody } from './polarity/Body.tsx';
