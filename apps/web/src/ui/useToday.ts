import { useState } from 'react';

/** The day on which a screen was opened, for paper. */
export const useToday = (): string => useState(() => new Date().toLocaleDateString(undefined, { dateStyle: 'long' }))[0];
