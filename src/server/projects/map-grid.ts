import { readFile } from 'node:fs/promises';
import { join } from 'node:path';

const GRIDS = join(process.env.YURTA_HOME ?? process.cwd(), 'node_modules/epsg-index/s');

/**
 * A map's grid in the words of PROJ, in metres, by its number in the EPSG register, such as EPSG:25832.
 *
 * @returns null for what the register does not know as a map
 */
export async function mapGrid(crs: string | undefined): Promise<string | null> {
  const code = /^(?:.*EPSG[\s:]*(?:[\d.]+:)?)?(\d{4,6})$/i.exec(crs?.trim() ?? '')?.[1];
  if (!code) return null;
  let entry: unknown;
  try {
    entry = JSON.parse(await readFile(join(GRIDS, `${code}.json`), 'utf8'));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
  const { kind, proj4 } = entry as { kind?: string; proj4?: string };
  if (kind !== 'CRS-PROJCRS' || !proj4) return null;
  // Tables of shifts between old and new surveys, a hundred metres at most, are not at hand, and the sun does not need them.
  return proj4.replace(/\+nadgrids=\S+/, '').replace(/\+(units|to_meter)=\S+/g, '') + ' +units=m';
}
