import sharp from 'sharp';
import type { TexturePicture } from '@/formats/building-model';
import { openPicture } from './open-picture';

const QUALITY = 80;

/**
 * Width and height in pixels.
 *
 * @throws Error if the picture is damaged or of a kind that cannot be read
 */
export async function pictureSize(picture: TexturePicture): Promise<{ width: number; height: number }> {
  const { width, height } = await (await openPicture(picture)).metadata();
  return { width, height };
}

export interface ShrunkPicture {
  /** WebP. */
  full: Buffer;
  small: Buffer;
  /** sRGB parts of all of it together, each 0..1. */
  mean: number[];
}

/**
 * A picture in two sizes, neither larger than it is.
 *
 * @param side of the full one, in pixels at most
 * @param smallSide of the small one
 * @throws Error if the picture is damaged or of a kind that cannot be read
 */
export async function shrinkPicture(picture: TexturePicture, side: number, smallSide: number): Promise<ShrunkPicture> {
  const opened = await openPicture(picture);
  const shrunk = (edge: number) =>
    opened
      .clone()
      .resize(edge, edge, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: QUALITY })
      .toBuffer();
  const [full, small] = await Promise.all([shrunk(side), shrunk(smallSide)]);
  const mean = await sharp(small).removeAlpha().resize(1, 1, { fit: 'fill' }).raw().toBuffer();
  return { full, small, mean: [...mean].map((part) => part / 255) };
}
