import type { ProblemCode } from '@yield/contract';
import { CoreError, type CoreErrorCode, type Fault } from '@yield/core';
import { Problem } from './problem.ts';

/** How a thread's task ended, as plain data: an error that crosses to another thread loses its class and its code. */
export type TaskResult<T> =
  | { kind: 'done'; value: T }
  | { kind: 'refused'; code: CoreErrorCode; faults: readonly Fault[] }
  | { kind: 'problem'; code: ProblemCode; status: number; message: string; errors: readonly Fault[] }
  /** the words and the code of the database or of Node.js */
  | { kind: 'failed'; code?: string; message: string };

/** Runs a task, on its thread. */
export async function settled<T>(work: () => Promise<T>): Promise<TaskResult<T>> {
  try {
    return { kind: 'done', value: await work() };
  } catch (error) {
    if (error instanceof CoreError) return { kind: 'refused', code: error.code, faults: error.faults };
    if (error instanceof Problem) {
      const { code, status, message, errors } = error;
      return { kind: 'problem', code, status, message, errors };
    }
    const { code, driverError, message = '' } = (error ?? {}) as { code?: string; driverError?: { code?: string }; message?: string };
    const own = driverError?.code ?? code;
    return { kind: 'failed', message, ...(own === undefined ? {} : { code: own }) };
  }
}

/** Its value, where it was asked for. @throws what the task threw, with its class and its code */
export function valueOf<T>(result: TaskResult<T>): T {
  if (result.kind === 'done') return result.value;
  if (result.kind === 'refused') throw new CoreError(result.code, result.faults);
  if (result.kind === 'problem') throw new Problem(result.code, result.message, result.errors, { status: result.status });
  throw Object.assign(new Error(result.message), result.code === undefined ? {} : { code: result.code });
}
