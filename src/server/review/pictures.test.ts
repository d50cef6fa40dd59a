import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { receivePicture } from './pictures';

async function dataUrl(width: number, height: number, format: 'jpeg' | 'png' = 'jpeg'): Promise<string> {
  const image = sharp({ create: { width, height, channels: 3, background: '#34497F' } }).withExif({
    IFD0: { Copyright: 'somebody', ImageDescription: 'where I live' },
  });
  return `data:image/${format};base64,${(await image.toFormat(format).toBuffer()).toString('base64')}`;
}

describe('a picture that a page sent', () => {
  it('is kept as a whole JPEG of its size and colour, without what its file told besides', async () => {
    const kept = await receivePicture(await dataUrl(320, 200));
    const { width, height, format, exif } = await sharp(kept).metadata();
    expect([width, height, format, exif]).toEqual([320, 200, 'jpeg', undefined]);
    const { channels } = await sharp(kept).stats();
    // Indigo, give or take what JPEG rounds.
    [0x34, 0x49, 0x7f].forEach((value, i) => expect(Math.abs(channels[i]!.mean - value)).toBeLessThan(3));
  });

  it('is made smaller when it is larger than minutes need', async () => {
    const { width, height } = await sharp(await receivePicture(await dataUrl(3200, 800))).metadata();
    expect([width, height]).toEqual([1600, 400]);
  });

  it('is refused when it is none, cut short, or another thing under the name', async () => {
    const whole = await dataUrl(64, 64);
    const refused = [
      '',
      'data:image/jpeg;base64,',
      'data:image/svg+xml,<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"/>',
      await dataUrl(8, 8, 'png'),
      whole.slice(0, whole.length / 2),
      `data:image/jpeg;base64,${Buffer.from('<script>').toString('base64')}`,
    ];
    for (const data of refused) await expect(receivePicture(data), data.slice(0, 40)).rejects.toThrow('cannot be read');
  });
});
