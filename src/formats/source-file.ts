import { readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** A model as it was handed over: its main file and the folder of parts that came along with it. */
export interface SourceFile {
  path: string;
  /** The name that the user gave it, for messages. */
  fileName: string;
  /** Folder of the parts, below which nothing else lies; null where the file came alone. */
  parts: string | null;
}

/**
 * Where a part lies that a file names, whatever slashes, case or folders its author's machine used; null if it did not
 * come along. Never leaves the folder of parts.
 */
export function findPart({ path, parts }: SourceFile, name: string): string | null {
  if (!parts) return null;
  const steps = name
    .replaceAll('\\', '/')
    .split('/')
    .filter((step) => step !== '' && step !== '.' && step !== '..');
  for (let from = 0; from < steps.length; from++) {
    for (const folder of [dirname(path), parts]) {
      const found = follow(folder, steps.slice(from));
      if (found) return found;
    }
  }
  return null;
}

/** Goes down step by step without regard to case. */
function follow(folder: string, steps: string[]): string | null {
  let at = folder;
  for (const step of steps) {
    const entry = readdirSync(at, { withFileTypes: true }).find(
      (candidate) => candidate.name.toLowerCase() === decode(step).toLowerCase(),
    );
    if (!entry) return null;
    at = join(at, entry.name);
    if (!entry.isDirectory()) return at;
  }
  return null;
}

function decode(step: string): string {
  try {
    return decodeURIComponent(step);
  } catch {
    return step;
  }
}
