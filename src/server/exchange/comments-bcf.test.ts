import { strFromU8, unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { closeConnection } from '@/db/database';
import { createProject } from '../projects/projects';
import { testAccount, testGuest } from '../test-people';
import { say } from '../review/comments';
import { commentsBcf } from './comments-bcf';

let lead: Awaited<ReturnType<typeof testAccount>>['actor'];
beforeAll(async () => {
  lead = (await testAccount('Lead')).actor;
});
afterAll(() => closeConnection());

it('comments go into one file, all or those that are wanted, with their pictures; not for guests and strangers', async () => {
  const project = await createProject(lead, 'Exchange', '');
  const view = { ...INITIAL_VIEW, camera: { position: [0, 0, 1], target: [0, 1, 1], fov: 50 } } as typeof INITIAL_VIEW;
  const picture = Buffer.from([0xff, 0xd8, 7]);
  const one = await say(lead, project, { text: 'One', view, picture });
  const two = await say(lead, project, { text: 'Two' });
  await say(lead, project, { text: 'Answer', replyTo: one });
  const all = unzipSync(await commentsBcf(lead, project, null));
  expect(Object.keys(all).filter((name) => name.endsWith('markup.bcf'))).toHaveLength(2);
  expect([...all[`${one}/snapshot.jpg`]!]).toEqual([...picture]);
  expect(strFromU8(all[`${one}/markup.bcf`]!)).toContain('Answer');
  const some = unzipSync(await commentsBcf(lead, project, [two, 'no such']));
  expect(Object.keys(some).filter((name) => name.endsWith('markup.bcf'))).toEqual([`${two}/markup.bcf`]);
  const guest = (await testGuest(lead, project, 'comment', 'Bo')).actor;
  const stranger = (await testAccount('Stranger')).actor;
  await expect(commentsBcf(guest, project, null)).rejects.toMatchObject({ status: 403 });
  await expect(commentsBcf(stranger, project, null)).rejects.toMatchObject({ status: 404 });
});
