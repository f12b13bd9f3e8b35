import type { Finding } from '../findings.ts';
import { ceilingState } from './ceilingState.ts';
import type { Chain } from './chain.ts';
import { areFiltersConfirmed, bareTweeter, crossoverState, filtersState } from './crossoverStates.ts';
import { factoryState } from './factoryState.ts';
import { flatState } from './flatState.ts';
import { gainState } from './gainState.ts';
import { inputState, outputState } from './levelStates.ts';
import { coilsState, hookupState, wholeState } from './loadStates.ts';
import { proofState } from './proofState.ts';
import type { TuneSettings } from './records.ts';
import type { RunRecords, StepState } from './state.ts';
import type { ChannelStep, CrossoverStep, Step } from './steps.ts';

/** Where a step stands, from the chain as it is now and everything that was read. */
export function stepState(step: Step, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const mark = records.marks.find((m) => m.stepId === step.id);
  const state = stateByKind(step, chain, settings, records);
  // Metering a wiring harms nobody; connecting it does.
  if ((step.kind === 'hookup' || isToneStep(step)) && step.hookup.verdict === 'below-minimum') {
    return {
      ...state,
      status: 'stop',
      findings: [{ grade: 'stop', text: step.hookup.note, next: 'Choose another wiring first.' }, ...state.findings],
    };
  }
  if (isToneStep(step)) {
    const bare = bareTweeter(step.channel);
    if (bare !== undefined) {
      const finding: Finding = {
        grade: 'stop',
        text: `${bare.name}: a tweeter with nothing to keep the bass from it.`,
        next: 'Put its capacitor in, or set a high-pass, before any tone plays.',
      };
      return { ...state, status: 'stop', findings: [finding, ...state.findings] };
    }
    if (state.status === 'open' && mark?.skippedReason === undefined && !areFiltersConfirmed(step.channel, chain, records.marks)) {
      const finding: Finding = {
        grade: 'attention',
        text: `Nobody has looked at the filters of ${step.channel.name} yet.`,
        next: 'Confirm them first: no driver gets a tone before its filter is set.',
      };
      return { ...state, findings: [finding, ...state.findings] };
    }
  }
  if (mark?.skippedReason !== undefined && (state.status === 'open' || state.status === 'stale')) {
    return { ...state, status: 'skipped', findings: [{ grade: 'note', text: `Skipped: ${mark.skippedReason}` }, ...state.findings] };
  }
  return state;
}

/** Steps at which a tone reaches the amplifier's terminals. */
export const isToneStep = (step: Step): step is ChannelStep | CrossoverStep =>
  step.kind === 'gain' || step.kind === 'proof' || step.kind === 'crossover';

function stateByKind(step: Step, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  switch (step.kind) {
    case 'coils':
      return coilsState(step, records);
    case 'whole':
      return wholeState(step, settings, records);
    case 'hookup':
      return hookupState(step, records);
    case 'flat':
      return flatState(step, chain, records);
    case 'ceiling':
      return ceilingState(step, chain, settings, records);
    case 'factory':
      return factoryState(step, chain, settings, records);
    case 'input':
      return inputState(step, chain, settings, records);
    case 'output':
      return outputState(step, chain, settings, records);
    case 'filters':
      return filtersState(step, chain, records);
    case 'crossover':
      return crossoverState(step, chain, settings, records);
    case 'gain':
      return gainState(step, chain, settings, records);
    case 'proof':
      return proofState(step, chain, settings, records);
  }
}
