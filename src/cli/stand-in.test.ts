import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { freePort } from '@/db/free-port';

test('the model store takes a secret that begins with a dash', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'stand-in-'));
  const port = await freePort();
  const secret = '-Fmq_of-a-secret';
  const store = spawn('./yurta', ['stand-in', 'store', String(port), folder, 'yurta', 'Yurta'], {
    env: { ...process.env, YURTA_STORE_CLIENT_SECRET: secret },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const ended = once(store, 'exit');
  try {
    const [said] = (await Promise.race([once(store.stdout, 'data'), ended])) as unknown[];
    expect(String(said)).toBe(`listening on 127.0.0.1:${port}\n`);
    const revoke = async (given: string) =>
      (
        await fetch(`http://127.0.0.1:${port}/revoke`, {
          method: 'POST',
          body: new URLSearchParams({ token: 'none', client_id: 'yurta', client_secret: given }),
        })
      ).status;
    expect(await revoke(secret)).toBe(200);
    expect(await revoke('another')).toBe(401);
  } finally {
    store.kill('SIGTERM');
    await ended;
    await rm(folder, { recursive: true });
  }
});
