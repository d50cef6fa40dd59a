import sharp from 'sharp';
import { Problem } from '../problems';

const JPEG = 'data:image/jpeg;base64,';
const MAX_SIDE = 1600;

/**
 * A picture that a page sent as a data address. It is decoded and written anew, so that what is kept and later put
 * into minutes is a whole JPEG and nothing but a picture.
 *
 * @throws Problem 400 if it is none
 */
export async function receivePicture(data: string): Promise<Buffer> {
  return takePicture(data.startsWith(JPEG) ? Buffer.from(data.slice(JPEG.length), 'base64') : Buffer.alloc(0));
}

/** The same of a picture's bytes, also of another format. */
export async function takePicture(bytes: Buffer): Promise<Buffer> {
  try {
    return await sharp(bytes, { limitInputPixels: 20_000_000, failOn: 'error' })
      .resize({ width: MAX_SIDE, height: MAX_SIDE, fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: 85 })
      .toBuffer();
  } catch {
    throw new Problem(400, 'The picture cannot be read. Nothing was stored; try again.');
  }
}
