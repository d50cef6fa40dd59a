const STAGES: Record<string, string> = {
  waiting: 'Waiting in the queue',
  reading: 'Reading the file',
  tiling: 'Making it light',
  indexing: 'Writing the contents',
  picturing: 'Taking a picture',
  done: 'Done',
};

/** A stage of a publication in plain words. */
export function stageName(stage: string): string {
  return STAGES[stage] ?? stage;
}

/** Groups of three parted by a narrow space, as in drawings. */
export function plainNumber(value: number): string {
  return String(value).replace(/\B(?=(\d{3})+$)/g, '\u202f');
}
