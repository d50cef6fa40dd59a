import { headers } from 'next/headers';
import { notFound, redirect } from 'next/navigation';
import { actorOf, type Actor } from '@/server/access/access';
import { hasOutbox } from '@/server/mail/outbox';
import { Problem } from '@/server/problems';
import type { Account } from '@/ui/frame/account-menu';

/** The account or guest of a page; strangers are sent to the door. */
export async function pageActor(): Promise<Actor> {
  const actor = await actorOf(await headers());
  if (!actor) redirect('/sign-in');
  return actor;
}

/** What the bar says of an account; guests have none. */
export function accountOf(actor: Actor): Account | undefined {
  return actor.kind === 'user' ? { name: actor.name, outbox: hasOutbox() } : undefined;
}

/** What a service gives; what it refuses becomes Next's own “not found”. */
export async function orNotFound<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof Problem && (error.status === 404 || error.status === 403)) notFound();
    throw error;
  }
}
