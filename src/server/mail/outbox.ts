import { existsSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { simpleParser, type AddressObject } from 'mailparser';
import type { OutboxMail } from '@/core/project/outbox-mail';
import { requireUser, type Actor } from '../access/access';
import { config } from '../config';

/** Mails that the page holds. */
const SHOWN = 100;

/** Whether mail goes to the stand-in mail server, so that there is something to read here. */
export function hasOutbox(): boolean {
  return config().outboxFolder !== null;
}

/** What the stand-in mail server holds for an account's own address, the newest first. */
export async function listOutbox(actor: Actor): Promise<OutboxMail[]> {
  requireUser(actor);
  const folder = config().outboxFolder;
  if (!folder || !existsSync(folder)) return [];
  const names = (await readdir(folder)).filter((name) => name.endsWith('.eml')).sort();
  const mails: OutboxMail[] = [];
  for (const name of names.reverse()) {
    const mail = await simpleParser(await readFile(join(folder, name)));
    if (!recipients(mail.to).some((address) => address === actor.email.toLowerCase())) continue;
    mails.push({
      id: name.replace(/\.eml$/, ''),
      from: mail.from?.text ?? '',
      to: recipients(mail.to).join(', '),
      subject: mail.subject ?? '',
      text: mail.text ?? '',
      sentAt: (mail.date ?? new Date(0)).toISOString(),
    });
    if (mails.length === SHOWN) break;
  }
  return mails;
}

function recipients(to: AddressObject | AddressObject[] | undefined): string[] {
  return [to ?? []]
    .flat()
    .flatMap(({ value }) => value)
    .map(({ address }) => (address ?? '').toLowerCase());
}
