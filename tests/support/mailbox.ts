import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { simpleParser, type ParsedMail } from 'mailparser';
import { afterAll, beforeAll } from 'vitest';
import { startMailServer } from '@/stand-ins/mail-server';

/**
 * While the tests of a file run, mail goes to a stand-in server of their own. To be called before the file's own hooks are, so that
 * it outlives what they end.
 *
 * @returns what has arrived, oldest first
 */
export function mailbox(): () => Promise<ParsedMail[]> {
  let folder: string;
  let server: Awaited<ReturnType<typeof startMailServer>>;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'mailbox-'));
    server = await startMailServer(folder, 0);
    process.env.YURTA_SMTP_URL = `smtp://127.0.0.1:${server.port}`;
  });
  afterAll(async () => {
    delete process.env.YURTA_SMTP_URL;
    await server.close();
    await rm(folder, { recursive: true, force: true });
  });
  return async () => {
    const names = (await readdir(folder)).filter((name) => name.endsWith('.eml')).sort();
    return Promise.all(names.map(async (name) => simpleParser(await readFile(join(folder, name)))));
  };
}
