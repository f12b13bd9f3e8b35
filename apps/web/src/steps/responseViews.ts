export { BlendBench } from './blend/Bench.tsx';
export { BlendBody } from './blend/Body.tsx';
export { HandoverBody } from './handover/Body.tsx';
export { ListeningBody } from './listening/Body.tsx';
export { ResponseBody } from './response/Body.tsx';
export { ResponseBench } from './response/Bench.tsx';
