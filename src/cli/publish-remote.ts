import { existsSync, statSync } from 'node:fs';
import type { RevisionDetail } from '@/core/project/models';
import { gatherParts, withOneFile } from './model-parts';
import { Remote, RemoteError, type Publication } from './remote';

export interface RemoteOptions extends Publication {
  server: string;
  token: string;
  /** Whether to wait until the file is read, or to end as soon as it is queued. */
  wait: boolean;
  json: boolean;
}

/**
 * `yurta publish FILE… --server URL --project ID`: sends files to a server, models that come in parts with their
 * parts, and tells what became of them.
 *
 * @returns the exit code: 0, or 2 if a file was not published
 */
export async function publishRemote(files: string[], options: RemoteOptions): Promise<number> {
  let code = 0;
  for (const model of await gatherParts(files)) {
    const file = model.main;
    try {
      if (!existsSync(file) || !statSync(file).isFile())
        throw new RemoteError(`“${file}” does not exist or is no file.`, false);
      const remote = new Remote(options.server, options.token);
      const revisionId = await withOneFile(model, (path) => remote.publish(path, options));
      if (!options.wait) {
        console.log(options.json ? JSON.stringify({ file, revisionId }) : `${file}: queued`);
        continue;
      }
      const revision = await remote.outcome(revisionId, () => undefined);
      console.log(
        options.json ? JSON.stringify({ file, revisionId, ...summary(revision) }) : `${file}: ${sentence(revision)}`,
      );
      if (revision.state === 'failed') code = 2;
    } catch (error) {
      if (!(error instanceof RemoteError)) throw error;
      console.error(`yurta publish: ${error.message}`);
      code = 2;
    }
  }
  return code;
}

function summary({ state, code, error, report }: RevisionDetail) {
  return { state, code, error, counts: report?.counts ?? null, unread: report?.unread.length ?? null };
}

/** What became of a revision, for a terminal. */
export function sentence({ state, code, error, report }: RevisionDetail): string {
  if (state === 'failed') return `not published. ${error}`;
  if (state === 'ready') return 'read, and waits to be looked at on Prepare';
  return `published as ${code}, ${report!.counts.elements} elements, ${report!.unread.length} not read`;
}
