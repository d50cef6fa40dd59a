import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { ReadWarning } from '@/core/project/publish-report';
import type { BuildingModel, SurfaceMaterial, TexturePicture } from '@/formats/building-model';
import { openPicture } from './open-picture';

/** A material as tiles draw it. */
export interface Surface extends SurfaceMaterial {
  /** What it looks like from afar or without its picture: the colour times the picture's mean. */
  plain: SurfaceMaterial['color'];
}

/** Where the two sizes of a picture lie, relative to the tiles' folder. */
interface PictureFiles {
  full: string;
  small: string;
}

export interface WrittenPictures {
  surfaces: Surface[];
  /** By texture. */
  files: Map<number, PictureFiles>;
  /** Bytes of all files. */
  bytes: number;
  /** Bytes of the small pictures, by texture. */
  smallBytes: Map<number, number>;
  /** Bytes that the small and the full pictures take in the memory of a graphics card, with their smaller copies. */
  memory: Map<number, { full: number; small: number }>;
  warnings: ReadWarning[];
}

/** Pixels of all pictures of a model together: about 130 MB in the memory of a graphics card. */
const PIXELS = 24_000_000;
const SIDES = [1024, 512, 256, 128];
const SMALL = 64;
const QUALITY = 80;
/** RGBA, and a third for the smaller copies that the card keeps. */
const BYTES_A_PIXEL = (4 * 4) / 3;

/**
 * Shrinks a model's pictures so that together they keep to a budget, and writes each twice as WebP: in full for what is
 * near, and small for what is far. A picture that cannot be read is reported and its surfaces keep their plain colour.
 *
 * @param used materials that something shows
 */
export async function writePictures(
  model: Pick<BuildingModel, 'materials' | 'textures'>,
  used: Set<number>,
  outFolder: string,
): Promise<WrittenPictures> {
  const out: WrittenPictures = {
    surfaces: [],
    files: new Map(),
    bytes: 0,
    smallBytes: new Map(),
    memory: new Map(),
    warnings: [],
  };
  const means = new Map<number, number[]>();
  const shown = new Set([...used].map((material) => model.materials[material]!.texture));
  const sizes = new Map<number, { width: number; height: number }>();
  for (const [i, picture] of model.textures.entries()) {
    if (!shown.has(i)) continue;
    try {
      const { width, height } = await (await openPicture(picture)).metadata();
      sizes.set(i, { width, height });
    } catch {
      out.warnings.push({ reason: unreadable(picture) });
    }
  }
  const side = SIDES.find((candidate) => pixels([...sizes.values()], candidate) <= PIXELS) ?? SIDES.at(-1)!;
  if (sizes.size > 0) await mkdir(join(outFolder, 'textures'), { recursive: true });
  for (const [i, size] of sizes) {
    const picture = model.textures[i]!;
    try {
      const opened = await openPicture(picture);
      const shrunk = (edge: number) =>
        opened.clone().resize(edge, edge, { fit: 'inside', withoutEnlargement: true }).webp({ quality: QUALITY });
      const [full, small] = await Promise.all([shrunk(side).toBuffer(), shrunk(SMALL).toBuffer()]);
      const mean = await sharp(small).removeAlpha().resize(1, 1, { fit: 'fill' }).raw().toBuffer();
      await writeFile(join(outFolder, 'textures', `${i}.webp`), full);
      await writeFile(join(outFolder, 'textures', `${i}-small.webp`), small);
      out.files.set(i, { full: `../textures/${i}.webp`, small: `../textures/${i}-small.webp` });
      out.bytes += full.length + small.length;
      out.smallBytes.set(i, small.length);
      out.memory.set(i, {
        full: pixels([size], side) * BYTES_A_PIXEL,
        small: pixels([size], SMALL) * BYTES_A_PIXEL,
      });
      means.set(
        i,
        [...mean].map((part) => part / 255),
      );
    } catch {
      out.warnings.push({ reason: unreadable(picture) });
    }
  }
  out.surfaces = model.materials.map((material) => {
    const mean = material.texture === undefined ? undefined : means.get(material.texture);
    if (!mean) return { ...material, texture: undefined, cutOut: false, plain: material.color };
    const [r, g, b, a] = material.color;
    return { ...material, plain: [r * mean[0]!, g * mean[1]!, b * mean[2]!, a] };
  });
  return out;
}

function pixels(sizes: { width: number; height: number }[], side: number): number {
  return sizes.reduce((sum, { width, height }) => {
    const scale = Math.min(1, side / Math.max(width, height));
    return sum + width * height * scale * scale;
  }, 0);
}

function unreadable({ name }: TexturePicture): string {
  return `the picture “${name.slice(0, 120) || 'without a name'}” is damaged or of a kind that cannot be read, so its surfaces show one plain colour`;
}

/** Surfaces of a model without its pictures. */
export function plainSurfaces(materials: SurfaceMaterial[]): Surface[] {
  return materials.map((material) => ({ ...material, texture: undefined, cutOut: false, plain: material.color }));
}
