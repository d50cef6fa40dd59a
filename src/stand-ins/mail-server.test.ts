import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createTransport } from 'nodemailer';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startMailServer } from './mail-server';

let folder: string;
let server: Awaited<ReturnType<typeof startMailServer>>;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'outbox-'));
  server = await startMailServer(folder, 0);
});
afterAll(async () => {
  await server.close();
  await rm(folder, { recursive: true });
});

/** Speaks SMTP by hand, line by line. Returns the answers' codes. */
function talk(lines: string[]): Promise<string[]> {
  return new Promise((done, fail) => {
    const codes: string[] = [];
    const socket = connect(server.port, '127.0.0.1');
    socket.setTimeout(5000, () => fail(new Error('no answer')));
    socket.on('error', fail);
    socket.on('data', (data) => {
      for (const line of data
        .toString()
        .split('\r\n')
        .filter((text) => /^\d{3} /.test(text))) {
        codes.push(line.slice(0, 3));
        const next = lines.shift();
        if (next === undefined) socket.end();
        else socket.write(`${next}\r\n`);
      }
    });
    socket.on('close', () => done(codes));
  });
}

it('takes a mail by SMTP and keeps it as it came, dots at the beginning of lines included', async () => {
  const codes = await talk([
    'EHLO test',
    'MAIL FROM:<a@example.test>',
    'RCPT TO:<b@example.test>',
    'DATA',
    'Subject: Hand-written\r\n\r\n..one dot\r\n.',
    'QUIT',
  ]);
  expect(codes).toEqual(['220', '250', '250', '250', '354', '250', '221']);
  const [name] = await readdir(folder);
  expect(name).toMatch(/^[0-9a-f-]{36}\.eml$/);
  expect(await readFile(join(folder, name!), 'utf8')).toContain('Subject: Hand-written\r\n\r\n.one dot');
});

it('refuses what is too large with the code for it, and goes on', async () => {
  const transport = createTransport(`smtp://127.0.0.1:${server.port}`, { from: 'a@example.test' });
  await expect(
    transport.sendMail({ to: 'b@example.test', subject: 'Huge', text: 'x'.repeat(26 * 1024 * 1024) }),
  ).rejects.toMatchObject({ responseCode: 552 });
  await transport.sendMail({ to: 'b@example.test', subject: 'Small', text: 'after it' });
  const names = (await readdir(folder)).sort();
  expect(names).toHaveLength(2);
  expect(await readFile(join(folder, names[1]!), 'utf8')).toContain('after it');
});

it('does not begin on a port that is taken', async () => {
  await expect(startMailServer(folder, server.port)).rejects.toThrow('EADDRINUSE');
});
