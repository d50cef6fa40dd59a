import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { simpleParser } from 'mailparser';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { db } from '@/db/database';
import { useOwnDatabase } from '@/db/test-database';
import { startMailServer } from '@/stand-ins/mail-server';
import { changePassword } from '../access/accounts';
import { createToken } from '../access/tokens';
import { queue, type MailJob } from '../publishing/queue';
import { testAccount } from '../test-people';
import { sendQueued } from './queued';

let folder: string;
let server: Awaited<ReturnType<typeof startMailServer>>;
beforeAll(async () => {
  await useOwnDatabase('account_changes');
  folder = await mkdtemp(join(tmpdir(), 'account-changes-'));
  server = await startMailServer(folder, 0);
  process.env.YURTA_SMTP_URL = `smtp://127.0.0.1:${server.port}`;
});
afterAll(async () => {
  delete process.env.YURTA_SMTP_URL;
  await (await queue()).stop({ graceful: false });
  await server.close();
  await rm(folder, { recursive: true, force: true });
});

it('the owner of an account hears by mail of a changed password and of a new access token', async () => {
  const { actor, cookie } = await testAccount('Ines');
  await changePassword(actor, new Headers({ cookie }), 'long enough here', 'gravel under four lanterns');
  const { token } = await createToken(actor, 'Nightly', 'read');
  const { rows } = await db().execute<{ data: MailJob }>(
    sql`select data from pgboss.job where name = 'mail' order by created_on`,
  );
  expect(rows.map(({ data }) => data)).toEqual([
    { account: actor.id, change: 'password' },
    { account: actor.id, change: 'token' },
  ]);
  for (const { data } of rows) await sendQueued(data);
  const files = (await readdir(folder)).filter((name) => name.endsWith('.eml'));
  const mails = await Promise.all(files.map(async (name) => simpleParser(await readFile(join(folder, name)))));
  expect(mails.map(({ subject }) => subject).sort()).toEqual(['An access token was made', 'Your password was changed']);
  for (const { text } of mails) {
    expect(text).toContain('If that was not you');
    expect(text).not.toContain('lanterns');
    expect(text).not.toContain(token);
  }
});
