export type ModelFileProblem =
  'empty' | 'truncated' | 'unknown-format' | 'unsupported' | 'damaged' | 'nothing-inside' | 'too-large' | 'no-room';

/** A file that cannot be read, with a sentence for the person who chose it. Never thrown for our own mistakes. */
export class ModelFileError extends Error {
  override readonly name = 'ModelFileError';

  constructor(
    readonly problem: ModelFileProblem,
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}
