import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { db } from '@/db/database';
import { useOwnDatabase } from '@/db/test-database';
import { mailbox } from '../../../tests/support/mailbox';
import { changePassword } from '../access/accounts';
import { createToken } from '../access/tokens';
import { queue, type MailJob } from '../publishing/queue';
import { testAccount } from '../test-people';
import { sendQueued } from './queued';

const mails = mailbox();
beforeAll(async () => {
  await useOwnDatabase('account_changes');
});
afterAll(async () => {
  await (await queue()).stop({ graceful: false });
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
  const arrived = await mails();
  expect(arrived.map(({ subject }) => subject).sort()).toEqual([
    'An access token was made',
    'Your password was changed',
  ]);
  for (const { text } of arrived) {
    expect(text).toContain('If that was not you');
    expect(text).not.toContain('lanterns');
    expect(text).not.toContain(token);
  }
});
