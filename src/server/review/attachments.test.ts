import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { MOST_ATTACHMENTS } from '@/core/project/comment';
import { useOwnDatabase } from '@/db/test-database';
import type { Actor } from '../access/access';
import { createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { testAccount, testGuest } from '../test-people';
import { attach, detach, readAttachment } from './attachments';
import { listComments, say } from './comments';

let lead: Actor;
let guest: Actor;
let project: string;
let said: string;
beforeAll(async () => {
  await useOwnDatabase('attachments');
  lead = (await testAccount('Ines')).actor;
  project = await createProject(lead, 'Town library', '');
  guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  said = await say(guest, project, { text: 'See the photo' });
});
afterAll(async () => void (await (await queue()).stop({ graceful: false })));

const photo = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#B77D16' } })
    .jpeg()
    .withExif({ IFD0: { Make: 'Camera' }, IFD3: { GPSLatitude: '51/1 20/1 0/1' } })
    .withMetadata({ orientation: 6 })
    .toBuffer();

describe('a file that goes along', () => {
  it('is a picture by its content, upright, no finer than is seen, and says nothing of where it was taken', async () => {
    const file = await attach(guest, project, said, { name: 'roof.exe', content: await photo(3000, 600) });
    expect(file).toMatchObject({ type: 'image/jpeg', width: 480, height: 2400, name: 'roof.exe' });
    const { content } = await readAttachment(lead, project, said, file.id);
    const { exif, orientation } = await sharp(content).metadata();
    expect([exif, orientation]).toEqual([undefined, undefined]);
    expect((await listComments(lead, project))[0]!.files).toMatchObject([{ id: file.id, name: 'roof.exe' }]);
  });

  it('is handed over as it is where it is no picture, and never as a page', async () => {
    const content = Buffer.from('<script>alert(1)</script>');
    const file = await attach(guest, project, said, { name: 'page.html', content });
    expect(file).toMatchObject({ type: 'application/octet-stream', width: null, size: content.length });
    const drawn = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
    expect(await attach(guest, project, said, { name: 'a.svg', content: drawn })).toMatchObject({ type: 'application/octet-stream' }); // prettier-ignore
    const whole = await photo(1200, 1200);
    const cut = whole.subarray(0, whole.length - 600);
    await expect(attach(guest, project, said, { name: 'cut.jpg', content: cut })).rejects.toMatchObject({
      status: 400,
    });
  });

  it('goes with what one has said oneself, and is taken away by whoever added it', async () => {
    const content = Buffer.from('%PDF-1.7');
    await expect(attach(lead, project, said, { name: 'a.pdf', content })).rejects.toMatchObject({ status: 403 });
    const file = await attach(guest, project, said, { name: 'a.pdf', content });
    await expect(detach(lead, project, said, file.id)).rejects.toMatchObject({ status: 404 });
    await detach(guest, project, said, file.id);
    await expect(readAttachment(lead, project, said, file.id)).rejects.toMatchObject({ status: 404 });
    const stranger = (await testAccount('Sunniva')).actor;
    await expect(readAttachment(stranger, project, said, file.id)).rejects.toMatchObject({ status: 404 });
  });

  it('has only so many beside it, however many come at once', async () => {
    const id = await say(guest, project, { text: 'Many' });
    const outcomes = await Promise.allSettled(
      Array.from({ length: MOST_ATTACHMENTS + 6 }, (_, i) => attach(guest, project, id, { name: `${i}.txt`, content: Buffer.from('x') })), // prettier-ignore
    );
    expect(outcomes.filter((one) => one.status === 'fulfilled')).toHaveLength(MOST_ATTACHMENTS);
  });
});
