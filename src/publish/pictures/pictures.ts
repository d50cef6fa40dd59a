import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { inLanes } from '@/core/lanes';
import type { ReadWarning } from '@/core/project/publish-report';
import type { BuildingModel, SurfaceMaterial, TexturePicture } from '@/formats/building-model';

/** A material as tiles draw it. */
export interface Surface extends SurfaceMaterial {
  /** What it looks like from afar or without its picture: the colour times the picture's mean. */
  plain: SurfaceMaterial['color'];
}

/** One size of a picture. */
interface PictureFile {
  /** Relative to the tiles' folder. */
  address: string;
  bytes: number;
  /** Bytes in the memory of a graphics card, with its smaller copies. */
  memory: number;
}

export interface WrittenPictures {
  surfaces: Surface[];
  /** By texture, in both sizes. */
  files: Map<number, { full: PictureFile; small: PictureFile }>;
  /** Bytes of all files. */
  bytes: number;
  warnings: ReadWarning[];
}

/** Pixels of all pictures of a model together: about 130 MB in the memory of a graphics card. */
const PIXELS = 24_000_000;
const SIDES = [1024, 512, 256, 128];
const SMALL = 64;
/** Pictures under way at once: some are read while others are packed. */
const AT_ONCE = 4;
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
    warnings: [],
  };
  const shown = new Set([...used].map((material) => model.materials[material]!.texture));
  const wanted = [...model.textures.entries()].filter(([i]) => shown.has(i));
  if (wanted.length === 0) return { ...out, surfaces: plainSurfaces(model.materials) };
  // Most models have none, and need not wait for what opens them.
  const { pictureSize, shrinkPicture } = await import('./shrink-picture');
  const warn = (i: number) => void out.warnings.push({ reason: unreadable(model.textures[i]!) });
  const sizes = new Map<number, { width: number; height: number }>();
  for (const [i, picture] of wanted) {
    const size = await pictureSize(picture).catch(() => null);
    if (size) sizes.set(i, size);
    else warn(i);
  }
  const side = SIDES.find((candidate) => pixels([...sizes.values()], candidate) <= PIXELS) ?? SIDES.at(-1)!;
  if (sizes.size > 0) await mkdir(join(outFolder, 'textures'), { recursive: true });
  const means = new Map<number, number[]>();
  await inLanes([...sizes], AT_ONCE, async ([i, size]) => {
    const shrunk = await shrinkPicture(model.textures[i]!, side, SMALL).catch(() => null);
    if (!shrunk) return warn(i);
    const { full, small, mean } = shrunk;
    const write = async (name: string, content: Buffer, edge: number): Promise<PictureFile> => {
      await writeFile(join(outFolder, 'textures', name), content);
      out.bytes += content.length;
      const memory = pixels([size], edge) * BYTES_A_PIXEL;
      return { address: `../textures/${name}`, bytes: content.length, memory };
    };
    out.files.set(i, {
      full: await write(`${i}.webp`, full, side),
      small: await write(`${i}-small.webp`, small, SMALL),
    });
    means.set(i, mean);
  });
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
