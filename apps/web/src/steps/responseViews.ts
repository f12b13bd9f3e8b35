export { ResponseBody } from './response/Body.tsx';
export { ResponseBench } from './response/Bench.tsx';
