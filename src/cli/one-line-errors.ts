import { ModelFileError } from '@/formats/model-file-error';

/**
 * Runs a command whose faults of files and options are told in one line.
 *
 * @returns the exit code: 0, or 2 if something was wrong with a file or an option
 */
export async function withOneLineErrors(command: string, work: () => Promise<void>): Promise<number> {
  try {
    await work();
    return 0;
  } catch (error) {
    if (!(error instanceof ModelFileError) && !isFileSystemError(error)) throw error;
    console.error(`yurta ${command}: ${error.message}`);
    return 2;
  }
}

function isFileSystemError(error: unknown): error is NodeJS.ErrnoException {
  return error instanceof Error && 'code' in error && typeof error.code === 'string' && /^E[A-Z]+$/.test(error.code);
}
