import Joi from 'joi';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { answeredRequests } from '@/db/schema';
import { forgetAnswers } from '@/server/access/answered-requests';
import { createToken } from '@/server/access/tokens';
import { notFound } from '@/server/problems';
import { createProject } from '@/server/projects/projects';
import { testAccount } from '@/server/test-people';
import { answering, PICTURED, readBody } from './answering';
import { POST as signIn } from './auth/[...all]/route';
import { POST as say } from './projects/[id]/comments/route';

let project: string;
let headers: Record<string, string>;
let others: Record<string, string>;
beforeAll(async () => {
  const lead = (await testAccount('Lead')).actor;
  project = await createProject(lead, 'Answering', '');
  headers = { authorization: `Bearer ${(await createToken(lead, 'a', 'comment')).token}` };
  const stranger = (await testAccount('Stranger')).actor;
  others = { authorization: `Bearer ${(await createToken(stranger, 'a', 'comment')).token}` };
});
afterAll(() => closeConnection());

type Handler = ReturnType<typeof answering>;
async function ask(handler: Handler, more: Record<string, string> = {}, body: BodyInit | null = null, as = headers) {
  const request = new Request('http://localhost/api/x', { method: 'POST', headers: { ...as, ...more }, body, ...(body instanceof ReadableStream && { duplex: 'half' }) }); // prettier-ignore
  const answer = await handler(request, { params: Promise.resolve({ id: project }) });
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
}

describe('a request that is sent again', () => {
  let done = 0;
  const make = answering(() => Promise.resolve({ made: ++done }));
  const key = (name: string) => ({ 'Idempotency-Key': name });

  it('with the same key is done once and answered the same; another one’s key is another key', async () => {
    const first = await ask(make, key('one'));
    expect(await ask(make, key('one'))).toEqual(first);
    expect((await ask(make, key('two'))).body.made).not.toBe(first.body.made);
    expect((await ask(make, key('one'), null, others)).body.made).not.toBe(first.body.made);
    expect((await ask(make)).body.made).not.toBe((await ask(make)).body.made);
  });

  it('while the first is on its way is refused, twenty times, and done once', async () => {
    for (let round = 0; round < 20; round++) {
      const before = done;
      const slow = answering(async () => {
        await new Promise((go) => setTimeout(go, 5));
        return { made: ++done };
      });
      const answers = await Promise.all([1, 2, 3].map(() => ask(slow, key(`round-${round}`))));
      expect(done).toBe(before + 1);
      expect(answers.filter(({ status }) => status === 200).length).toBeGreaterThan(0);
      for (const { status } of answers) expect([200, 409]).toContain(status);
    }
  });

  it('can be tried again where it failed, and means one thing', async () => {
    let isThere = false;
    const find = answering(() => (isThere ? Promise.resolve({ found: true }) : Promise.reject(notFound('It'))));
    expect((await ask(find, key('late'))).status).toBe(404);
    isThere = true;
    expect((await ask(find, key('late'))).body).toEqual({ found: true });
    expect((await ask(find, { ...key('late'), 'Content-Length': '7' })).status).toBe(422);
    const words = (text: string) => ask(find, { ...key('words'), 'Content-Length': '13' }, JSON.stringify({ text }));
    expect((await words('one')).status).toBe(200);
    expect((await words('one')).status).toBe(200);
    expect((await words('two')).status).toBe(422);
    expect((await ask(find, key('no key!'))).status).toBe(400);
  });

  it('is taken over from a process that died over it, and forgotten after a day', async () => {
    await ask(make, key('dead'));
    const [row] = await db().select().from(answeredRequests).limit(1).where(eq(answeredRequests.about, 'POST /api/x '));
    const past = new Date(Date.now() - 3 * 60_000);
    await db().update(answeredRequests).set({ status: null, at: past }).where(eq(answeredRequests.key, row!.key));
    const before = done;
    expect((await ask(make, key(row!.key.split(':')[1]!))).status).toBe(200);
    expect(done).toBe(before + 1);
    expect(await forgetAnswers(Date.now() + 25 * 60 * 60_000)).toBeGreaterThan(0);
  });
});

describe('a body', () => {
  const schema = Joi.object<{ text: string }>({ text: Joi.string().required() });
  const long = (bytes: number) => JSON.stringify({ text: 'x'.repeat(bytes) });

  it('is small, unless a route says otherwise', async () => {
    const small = answering(async ({ request }) => ({ length: (await readBody(request, schema)).text.length }));
    expect((await ask(small, {}, long(60_000))).body).toEqual({ length: 60_000 });
    expect((await ask(small, {}, long(70_000))).status).toBe(413);
    const pictured = answering(async ({ request }) => ({ length: (await readBody(request, schema, PICTURED)).text.length })); // prettier-ignore
    expect((await ask(pictured, {}, long(70_000))).status).toBe(200);
  });

  it('with characters that no text holds is refused in words', async () => {
    const read = answering(async ({ request }) => ({ text: (await readBody(request, schema)).text }));
    for (const text of ['a\0b', '\x1b[2J', 'half \ud83d', '\udc4d half'])
      expect(await ask(read, {}, JSON.stringify({ text }))).toMatchObject({ status: 400 });
    expect((await ask(read, {}, JSON.stringify({ 'te\0xt': 'a' }))).status).toBe(400);
    const fine = 'Tab\t, two\r\nlines, 👍 and שלום';
    expect((await ask(read, {}, JSON.stringify({ text: fine }))).body).toEqual({ text: fine });
  });

  it('nested without end, or with a name that makes an object of another, is refused in words', async () => {
    const any = answering(async ({ request }) => ({ is: await readBody(request, Joi.any()) }));
    for (const open of ['[', '{"a":']) {
      const deep = open.repeat(9_000) + '1' + (open === '[' ? ']' : '}').repeat(9_000);
      expect((await ask(any, {}, deep)).status, open).toBe(400);
    }
    expect((await ask(any, {}, '{"text":"x","__proto__":{"right":"edit"}}')).status).toBe(400);
    expect((await ask(any, {}, '{"a":[{"__proto__":{}}]}')).status).toBe(400);
    expect((await ask(any, {}, JSON.stringify({ a: [[[{ b: [1] }]]] }))).status).toBe(200);
  });

  it('that says it is too long is not begun with, so that its sender hears why', async () => {
    let wasBegun = true;
    const read = answering(async ({ request }) => {
      await readBody(request, schema).finally(() => (wasBegun = request.bodyUsed));
    });
    expect((await ask(read, { 'content-length': '70000' }, long(70_000))).status).toBe(413);
    expect(wasBegun).toBe(false);
  });

  it('of somebody who may not is not read', async () => {
    let read = 0;
    const endless = () =>
      new ReadableStream({
        pull(controller) {
          read += 65_536;
          controller.enqueue(new Uint8Array(65_536));
        },
      });
    expect((await ask(say, {}, endless(), others)).status).toBe(404);
    // What a stream holds ready before anybody asks.
    expect(read).toBeLessThan(4 * 65_536);
  });

  it('with which somebody signs in is small', async () => {
    const request = new Request('http://localhost/api/auth/sign-in/email', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: 'a@b.example', password: 'x'.repeat(100_000) }),
    });
    expect((await signIn(request)).status).toBe(413);
  });
});
