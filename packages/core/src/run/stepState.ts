import { ceilingState } from './ceilingState.ts';
import type { Chain } from './chain.ts';
import { factoryState } from './factoryState.ts';
import { flatState } from './flatState.ts';
import { gainState } from './gainState.ts';
import { inputState, outputState } from './levelStates.ts';
import { coilsState, hookupState, wholeState } from './loadStates.ts';
import { proofState } from './proofState.ts';
import type { TuneSettings } from './records.ts';
import type { RunRecords, StepState } from './state.ts';
import type { Step } from './steps.ts';

/** Where a step stands, from the chain as it is now and everything that was read. */
export function stepState(step: Step, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const mark = records.marks.find((m) => m.stepId === step.id);
  const state = stateByKind(step, chain, settings, records);
  // Metering a wiring harms nobody; connecting it does.
  if ((step.kind === 'hookup' || step.kind === 'gain' || step.kind === 'proof') && step.hookup.verdict === 'below-minimum') {
    return {
      ...state,
      status: 'stop',
      findings: [{ grade: 'stop', text: step.hookup.note, next: 'Choose another wiring first.' }, ...state.findings],
    };
  }
  if (mark?.skippedReason !== undefined && (state.status === 'open' || state.status === 'stale')) {
    return { ...state, status: 'skipped', findings: [{ grade: 'note', text: `Skipped: ${mark.skippedReason}` }, ...state.findings] };
  }
  return state;
}

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
    case 'gain':
      return gainState(step, chain, settings, records);
    case 'proof':
      return proofState(step, chain, settings, records);
  }
}
