import { zip, type AsyncZippable } from 'fflate';
import { comesInParts, isPartFile } from '@/core/project/incoming-file';

/**
 * Files as they are to be uploaded: models by themselves, and a model that comes in parts as one archive of it and its
 * parts. Parts without a model stay as they are, so that the server can say what they are.
 */
export async function bundle(files: File[]): Promise<File[]> {
  const parts = files.filter((file) => isPartFile(file.name));
  const mains = files.filter((file) => comesInParts(file.name));
  if (parts.length === 0 || mains.length === 0) return files;
  const others = files.filter((file) => !parts.includes(file) && !mains.includes(file));
  const archives = await Promise.all(
    mains.map(
      async (main) => new File([await pack([main, ...parts])], `${main.name}.zip`, { type: 'application/zip' }),
    ),
  );
  return [...archives, ...others];
}

async function pack(files: File[]): Promise<Uint8Array<ArrayBuffer>> {
  const content: AsyncZippable = {};
  for (const file of files)
    content[file.webkitRelativePath || file.name] = [new Uint8Array(await file.arrayBuffer()), { level: 1 }];
  return new Promise((done, fail) =>
    zip(content, (error, data) => (error ? fail(error) : done(data as Uint8Array<ArrayBuffer>))),
  );
}
