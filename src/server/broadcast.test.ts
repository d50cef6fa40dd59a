import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { expect, it } from 'vitest';
import { freePort } from '@/db/free-port';
import { LIVE_CHANNEL, tellProject } from './broadcast';

it('what cannot be announced while the database is away is announced once it is back, and fails nobody', async () => {
  const url = process.env.DATABASE_URL!;
  const project = randomUUID();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(`listen ${LIVE_CHANNEL}`);
  const heard: string[] = [];
  client.on('notification', ({ payload }) => payload!.includes(project) && heard.push(payload!));
  process.env.DATABASE_URL = `postgres://yurta@127.0.0.1:${await freePort()}/yurta`;
  try {
    await tellProject(project, 'comments-changed');
    await tellProject(project, 'comments-changed');
    await tellProject(project, 'models-changed');
    expect(heard).toEqual([]);
  } finally {
    process.env.DATABASE_URL = url;
  }
  await expect.poll(() => heard, { timeout: 5000 }).toHaveLength(2);
  expect(heard.map((payload) => (JSON.parse(payload) as { event: string }).event)).toEqual([
    'comments-changed',
    'models-changed',
  ]);
  await client.end();
});
