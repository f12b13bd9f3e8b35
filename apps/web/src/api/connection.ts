import { createAction } from '@reduxjs/toolkit';

/** Whether the server answered the last time that it was asked. */
export const connectionSeen = createAction<'up' | 'down'>('connection/seen');
