import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { db } from '@/db/database';
import { doorTries } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { POST as enter } from '@/app/api/enter/route';
import { POST as signIn } from '@/app/api/auth/[...all]/route';
import { createProject } from '../projects/projects';
import { queue } from '../publishing/queue';
import { runningMeeting, startMeeting } from '../review/meetings';
import { testAccount, type TestPerson } from '../test-people';
import { forgetTries, networkOf } from './door-guard';

let lead: TestPerson;
let email: string;
let project: string;
beforeAll(async () => {
  await useOwnDatabase('doors');
  lead = await testAccount('Lead');
  email = lead.actor.kind === 'user' ? lead.actor.email : '';
  project = await createProject(lead.actor, 'Doors', '');
  await startMeeting(lead.actor, project, 'Evening');
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
});
beforeEach(() => db().delete(doorTries));

const post = (path: string, from: string, body: object) =>
  new Request(`http://localhost${path}`, {
    method: 'POST',
    headers: { 'x-forwarded-for': from, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
const come = async (code: string, from: string) => {
  const answer = await enter(post('/api/enter', from, { name: 'Bo', code }));
  return { status: answer.status, title: ((await answer.json()) as { title?: string }).title ?? '' };
};
const password = async (word: string, from: string) =>
  (await signIn(post('/api/auth/sign-in/email', from, { email: email, password: word }))).status;
const address = (i: number) => `10.0.${i >> 8}.${i & 255}`;
const code = async () => (await runningMeeting(lead.actor, project))!.code!;

describe('a door', () => {
  it('stays open to an office of many people behind one address, and closes to who guesses there', async () => {
    const right = await code();
    for (let i = 0; i < 40; i++) expect((await come(right, '192.0.2.1')).status).toBe(200);
    const wrong = right === '000000' ? '111111' : '000000';
    for (let i = 0; i < 20; i++) expect((await come(wrong, '192.0.2.1')).status).toBe(404);
    expect(await come(right, '192.0.2.1')).toMatchObject({ status: 429 });
    expect((await come(right, '192.0.2.2')).status).toBe(200);
  });

  it('asks for longer codes while many guess from many addresses, and the lead sees them', async () => {
    const right = await code();
    expect(right).toMatch(/^\d{6}$/);
    const wrong = right === '000000' ? '111111' : '000000';
    for (let i = 0; i < 100; i++) await come(wrong, address(i));
    expect(await come(right, address(500))).toMatchObject({ status: 404, title: expect.stringMatching(/nine digits/) as string }); // prettier-ignore
    const long = await code();
    expect(long).toMatch(/^\d{9}$/);
    expect(long.startsWith(right)).toBe(true);
    expect((await come(long, address(501))).status).toBe(200);
    const last = (Number(long[8]) + 1) % 10;
    expect((await come(`${long.slice(0, 8)}${last}`, address(502))).status).toBe(404);
  });

  it('makes an account wait after some wrong passwords from wherever, and not for good', async () => {
    for (let i = 0; i < 5; i++) expect(await password('wrong', address(i))).toBe(401);
    expect(await password('long enough here', address(9))).toBe(429);
    await new Promise((go) => setTimeout(go, 2100));
    expect(await password('long enough here', address(9))).toBe(200);
    expect(await password('wrong', address(9)), 'counted anew').toBe(401);
  });

  it('is not passed by guessing all at once', async () => {
    const statuses = await Promise.all(Array.from({ length: 60 }, (_, i) => password('wrong', address(i))));
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(6);
    expect(statuses.filter((status) => status === 429).length).toBeGreaterThanOrEqual(54);
    const wrong = (await code()).startsWith('000') ? '111111111' : '000000000';
    const guesses = await Promise.all(Array.from({ length: 200 }, () => come(wrong, '192.0.2.3')));
    expect(guesses.filter(({ status }) => status === 404).length).toBeLessThan(40);
    expect(guesses.filter(({ status }) => status === 429).length).toBeGreaterThan(160);
  });

  it('lets a hundred people of one office in at once', async () => {
    const right = await code();
    const statuses = await Promise.all(Array.from({ length: 100 }, () => come(right, '192.0.2.4')));
    expect(statuses.map(({ status }) => status)).toEqual(Array(100).fill(200));
  });

  it('forgets what counts no more', async () => {
    await come('000000', '192.0.2.9');
    const there = await db().$count(doorTries);
    expect(there).toBeGreaterThan(0);
    expect(await forgetTries()).toBe(0);
    expect(await forgetTries(Date.now() + 60 * 60_000)).toBe(there);
  });

  it('takes a household’s network of IPv6 for one address', () => {
    const one = networkOf('2001:db8:1:2:3:4:5:6');
    expect(one).toBe('2001:db8:1:2::/64');
    expect([networkOf('2001:db8:1:2::9'), networkOf('2001:DB8:0001:2:ffff::1%eth0')]).toEqual([one, one]);
    expect(networkOf('2001:db8:1:3::9')).not.toBe(one);
    expect([networkOf('::1'), networkOf('::ffff:192.0.2.7'), networkOf('192.0.2.7')]).toEqual(['0:0:0:0::/64', '192.0.2.7', '192.0.2.7']); // prettier-ignore
  });
});
