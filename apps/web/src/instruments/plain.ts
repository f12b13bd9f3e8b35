import type { Meter, Microphone, NamedMeter, NamedMicrophone } from '@yield/core';

/** Without the name that it has in the library. */
export const plainMeter = ({ name: _name, ...meter }: NamedMeter): Meter => meter;
export const plainMicrophone = ({ name: _name, ...microphone }: NamedMicrophone): Microphone => microphone;
