import { join } from 'node:path';
import { bundleConverter } from './build';

/** Vitest global setup: conversions of all tests run from one file, as in an installation. */
export async function setup(): Promise<void> {
  const folder = join(process.cwd(), '.yurta', 'test-converter');
  await bundleConverter(process.cwd(), folder);
  process.env.YURTA_CONVERTER = join(folder, 'convert-process.mjs');
}
