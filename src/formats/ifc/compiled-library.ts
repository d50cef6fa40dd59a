import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';

/** Where the compiled half of the reader library lies. */
export function libraryFile(): string {
  return createRequire(import.meta.url).resolve('web-ifc/web-ifc-node.wasm');
}

let held: Promise<WebAssembly.Module> | null = null;

/**
 * Holds on to what V8 has made of the library's WebAssembly. All threads of a process share it, and it is thrown away
 * with the last that uses it: the next file would have it compiled anew, which takes longer than reading a small one.
 * Cheap while a thread uses the library.
 */
export async function holdCompiledLibrary(): Promise<void> {
  held ??= readFile(libraryFile()).then((bytes) => WebAssembly.compile(bytes));
  await held;
}
