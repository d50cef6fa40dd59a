import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ModelFileError } from '@/formats/model-file-error';
import { publishModel } from '@/publish/publish-model';

/** What the conversion process tells the worker that started it. */
export type ConvertMessage =
  | { kind: 'progress'; stage: string; share: number }
  | { kind: 'memory'; megabytes: number }
  | { kind: 'failed'; reason: string };

/** Entry of the process: FILE NAME OUT. Writes the revision's folder and, for the database, `properties.json`. */
async function main(): Promise<void> {
  const [path, fileName, outFolder] = process.argv.slice(2) as [string, string, string];
  const tell = (message: ConvertMessage) => process.send?.(message);
  const watch = setInterval(() => tell({ kind: 'memory', megabytes: process.memoryUsage().rss / 1024 / 1024 }), 500);
  try {
    const { index, properties } = await publishModel(path, {
      fileName,
      outFolder,
      onProgress: (stage, share) => tell({ kind: 'progress', stage, share }),
    });
    await writeFile(
      join(outFolder, 'properties.json'),
      JSON.stringify(index.guid.map((guid, i) => ({ guid, sets: properties[i] }))),
    );
  } catch (error) {
    if (!(error instanceof ModelFileError)) throw error;
    tell({ kind: 'failed', reason: error.message });
  } finally {
    clearInterval(watch);
  }
  process.disconnect?.();
}

await main();
