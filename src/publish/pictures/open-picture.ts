import sharp, { type Sharp } from 'sharp';
import { TGALoader } from 'three/addons/loaders/TGALoader.js';
import type { TexturePicture } from '@/formats/building-model';
import { isKtx2, readKtx2 } from './ktx2';

const LARGEST_INPUT = 100_000_000;

/**
 * A picture of any kind that models come with: PNG, JPEG, WebP, GIF, TIFF, and of those that only 3D programs write TGA
 * and KTX2 with Basis Universal (as KHR_texture_basisu has it).
 *
 * @throws Error if it is damaged or of another kind
 */
export async function openPicture({ name, bytes }: TexturePicture): Promise<Sharp> {
  if (isKtx2(bytes)) return raw(await readKtx2(bytes));
  // TGA has no sign of its own at its beginning.
  if (/\.(tga|targa)$/i.test(name) && !isKnown(bytes)) return raw(readTga(bytes));
  return sharp(bytes, { limitInputPixels: LARGEST_INPUT });
}

export interface RawPicture {
  /** RGBA, a byte each, rows from above. */
  data: Uint8Array;
  width: number;
  height: number;
}

function raw({ data, width, height }: RawPicture): Sharp {
  return sharp(data, { raw: { width, height, channels: 4 } });
}

function readTga(bytes: Uint8Array): RawPicture {
  const width = bytes[12]! | (bytes[13]! << 8);
  const height = bytes[14]! | (bytes[15]! << 8);
  if (bytes.length < 18 || width * height === 0 || width * height > LARGEST_INPUT) throw new Error('no TGA picture');
  const isPacked = bytes[2]! > 8;
  if (!isPacked && bytes.length < 18 + (width * height * bytes[16]!) / 8)
    throw new Error('a TGA picture that breaks off');
  const { data } = new TGALoader().parse(Uint8Array.from(bytes).buffer) as { data: Uint8Array };
  if (data.length !== width * height * 4) throw new Error('a damaged TGA picture');
  return { data, width, height };
}

function isKnown(bytes: Uint8Array): boolean {
  const head = Buffer.from(bytes.subarray(0, 12)).toString('latin1');
  return /^(\x89PNG|\xff\xd8\xff|GIF8|RIFF.{4}WEBP|II\*|MM.\*)/s.test(head);
}
