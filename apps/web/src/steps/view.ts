import type { KindId } from '@yield/core';
import type { ComponentType } from 'react';
import type { StepNow, TuneRun } from '../tune/useTuneRun.ts';

export interface ViewProps<K extends KindId = KindId> {
  run: TuneRun;
  current: StepNow<K>;
}

/** What the screen shows of one kind of step; caution, captures, readings and ticks' lists come from the frame. */
export interface StepView<K extends KindId = KindId> {
  Body: ComponentType<ViewProps<K>>;
  /** beside the body while the bench is closed; the conditions where nothing is said */
  Side?: ComponentType<ViewProps<K>>;
  /** the simulated bench, where there is one to practise on */
  Bench?: ComponentType<ViewProps<K>>;
  /** it lists its own readings and captures */
  hasOwnLog?: boolean;
  /** below everything: why the figure is what it is */
  After?: ComponentType<ViewProps<K>>;
}
