import type { Finding } from '@yield/core';

/** Tells findings of one list apart. */
export const findingKey = ({ code, figures }: Finding): string => `${code} ${JSON.stringify(figures)}`;
