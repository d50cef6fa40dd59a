import { mkdir, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { SMTPServer } from 'smtp-server';
import { v7 as uuidv7 } from 'uuid';

/** Mails that are kept; the oldest go first. */
const KEPT = 500;
const MAX_BYTES = 25 * 1024 * 1024;

/**
 * Plays a mail server: takes every mail by SMTP on loopback and keeps it as a file, `ID.eml` as RFC 5322 has it. Ids
 * grow with time.
 *
 * @param folder where the mails are kept
 * @param port 0 for any that is free
 */
export async function startMailServer(folder: string, port: number): Promise<{ port: number; close(): Promise<void> }> {
  await mkdir(folder, { recursive: true });
  const server = new SMTPServer({
    name: 'yurta-outbox',
    size: MAX_BYTES,
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    disableReverseLookup: true,
    onData(stream, _session, done) {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => {
        // What is too long is read to its end and refused then, as the protocol has it.
        if (!stream.sizeExceeded) parts.push(part);
      });
      stream.on('end', () => {
        if (stream.sizeExceeded)
          return done(Object.assign(new Error('The mail is too large for this outbox.'), { responseCode: 552 }));
        keep(folder, Buffer.concat(parts)).then(
          () => done(),
          (error: Error) => done(Object.assign(error, { responseCode: 452 })),
        );
      });
    },
  });
  server.on('error', (error) => process.stderr.write(`outbox: ${error.message}\n`));
  const listening = server.listen(port, '127.0.0.1');
  await new Promise<void>((ready, fail) => {
    listening.once('listening', ready);
    listening.once('error', fail);
  });
  return {
    port: (listening.address() as { port: number }).port,
    close: () => new Promise((closed) => server.close(() => closed())),
  };
}

async function keep(folder: string, mail: Buffer): Promise<void> {
  const id = uuidv7();
  // Under another name until it is whole, so that nobody reads half of it.
  const draft = join(folder, `${id}.part`);
  await writeFile(draft, mail);
  await rename(draft, join(folder, `${id}.eml`));
  const kept = (await readdir(folder)).filter((name) => name.endsWith('.eml')).sort();
  for (const name of kept.slice(0, Math.max(0, kept.length - KEPT))) await rm(join(folder, name), { force: true });
}
