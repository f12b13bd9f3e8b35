export { chainFaults, withTrueLoads } from '@yield/core';
