import { TASKS, type TaskName, type Tasks } from './tasks';

/** One task as it is sent to a worker, and its answer. */
export interface TaskMessage<Name extends TaskName = TaskName> {
  id: number;
  name: Name;
  input: Tasks[Name][0];
}
export type AnswerMessage = { id: number; output: unknown } | { id: number; error: string };

self.onmessage = async ({ data: { id, name, input } }: MessageEvent<TaskMessage>) => {
  try {
    const work = TASKS[name] as (given: typeof input) => ReturnType<(typeof TASKS)[TaskName]>;
    const { output, transfer } = await work(input);
    self.postMessage({ id, output } satisfies AnswerMessage, { transfer: [...new Set(transfer)] });
  } catch (error) {
    self.postMessage({ id, error: error instanceof Error ? error.message : String(error) } satisfies AnswerMessage);
  }
};
