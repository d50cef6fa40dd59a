import { fromBufferPromise } from 'yauzl';

/** As much as a file may hold, unpacked. */
export interface UnzipLimits {
  bytes: number;
  entries: number;
}

/**
 * Unpacks a zip archive in memory. Entries may not be larger than they announce, and all together not larger than the limit.
 *
 * @throws Error with the reason
 */
export async function unzip(archive: Buffer, limits: UnzipLimits): Promise<Record<string, Uint8Array>> {
  const zip = await fromBufferPromise(archive, { lazyEntries: true, validateEntrySizes: true });
  const files: Record<string, Uint8Array> = Object.create(null) as Record<string, Uint8Array>;
  let bytes = 0;
  let entries = 0;
  for await (const entry of zip.eachEntry()) {
    if (entry.fileName.endsWith('/')) continue;
    bytes += entry.uncompressedSize;
    if (bytes > limits.bytes || ++entries > limits.entries) throw new Error('it holds too much');
    const parts: Buffer[] = [];
    for await (const part of await zip.openReadStreamPromise(entry)) parts.push(part as Buffer);
    files[entry.fileName] = Buffer.concat(parts);
  }
  return files;
}
