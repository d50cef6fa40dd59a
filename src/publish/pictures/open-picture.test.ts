import { expect, it } from 'vitest';
import { openPicture } from './open-picture';

/** 8 x 4 pixels, red (200, 40, 20) on the left and blue (20, 60, 220) on the right, by the Basis Universal encoder 2.50. */
const KTX2 = {
  etc1s:
    'q0tUWCAyMLsNChoKAAAAAAEAAAAIAAAABAAAAAAAAAAAAAAAAQAAAAEAAAABAAAAaAAAACwAAACUAAAAJAAAALgAAAAAAAAAiwAAAAAAAABDAQAAAAAAAAEAAAAAAAAAAAAAAAAAAAAsAAAAAAAAAAIAKACjAQIAAwMAAAgAAAAAAAAAAAA/AAAAAAAAAAAA/////x8AAABLVFh3cml0ZXIAQmFzaXMgVW5pdmVyc2FsIDIuNTAAAAIAAgAvAAAACQAAACsAAAAAAAAAAAAAAAAAAAABAAAAAAAAAAAAAAAewJQAAAAAAACyQqQBTAkAAAAAAEEHjBYQgBkAAAAAAAAkGQBTAAQAAAAAyBBWAQQAAACoqqqqAgDBRAAAAAAAAPJfTQCYABAAAAAAQBwAJgAEAAAAABAHABMAAAAAAAAIIAAE',
  uastc:
    'q0tUWCAyMLsNChoKAAAAAAEAAAAIAAAABAAAAAAAAAAAAAAAAQAAAAEAAAAAAAAAaAAAACwAAACUAAAALAAAAAAAAAAAAAAAAAAAAAAAAADAAAAAAAAAACAAAAAAAAAAIAAAAAAAAAAsAAAAAAAAAAIAKACmAQIAAwMAABAAAAAAAAAAAAB/AAAAAAAAAAAA/////x8AAABLVFh3cml0ZXIAQmFzaXMgVW5pdmVyc2FsIDIuNTAAAAQAAAB/fwAAFxmF4j+1AwAAAAAAAAAAAJeCh/u/MMsDAAAAAAAAAAA=',
};

async function corners(name: string, bytes: Uint8Array): Promise<number[][]> {
  const { data, info } = await (
    await openPicture({ name, bytes })
  )
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = (x: number, y: number) => [...data.subarray((y * info.width + x) * 4, (y * info.width + x) * 4 + 4)];
  return [[info.width, info.height], at(0, 0), at(info.width - 1, 0), at(0, info.height - 1)];
}

/** Uncompressed or run-length encoded TGA of 2 x 2 pixels, rows from below as most programs write them: BGR. */
function tga(encoded: boolean): Uint8Array {
  const head = Buffer.alloc(18);
  head[2] = encoded ? 10 : 2;
  head.writeUInt16LE(2, 12);
  head.writeUInt16LE(2, 14);
  head[16] = 24;
  const below = [0, 0, 255, 0, 255, 0]; // red, green
  const above = [255, 0, 0, 255, 0, 0]; // blue, blue
  return Buffer.concat([head, Buffer.from(encoded ? [1, ...below, 0x81, ...above.slice(0, 3)] : [...below, ...above])]);
}

it('reads KTX2 with both kinds of Basis Universal', async () => {
  for (const [kind, text] of Object.entries(KTX2)) {
    const [size, left, right] = await corners('wall.ktx2', Buffer.from(text, 'base64'));
    expect(size).toEqual([8, 4]);
    for (const [found, due] of [
      [left!, [200, 40, 20, 255]],
      [right!, [20, 60, 220, 255]],
    ] as const)
      found.forEach((part, i) => expect(Math.abs(part - due[i]!), `${kind} ${found.join()}`).toBeLessThan(12));
  }
});

it('reads TGA, plain and run-length encoded, the right way up', async () => {
  const due = [
    [2, 2],
    [0, 0, 255, 255],
    [0, 0, 255, 255],
    [255, 0, 0, 255],
  ];
  expect(await corners('oak.tga', tga(false))).toEqual(due);
  expect(await corners('OAK.TGA', tga(true))).toEqual(due);
});

it('refuses what breaks off, and what is none', async () => {
  await expect(
    openPicture({ name: 'a.ktx2', bytes: Buffer.from(KTX2.uastc, 'base64').subarray(0, 60) }),
  ).rejects.toThrow('KTX2');
  await expect(openPicture({ name: 'a.tga', bytes: tga(false).subarray(0, 19) })).rejects.toThrow();
  await expect(openPicture({ name: 'a.tga', bytes: Buffer.alloc(40) })).rejects.toThrow('no TGA');
});
