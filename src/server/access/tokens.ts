import { randomBytes } from 'node:crypto';
import { and, desc, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { TokenSummary } from '@/core/project/access-token';
import type { TokenRight } from '@/core/rights';
import { db } from '@/db/database';
import { accessTokens } from '@/db/schema';
import { requirePerson, type Actor } from './access';
import { keyedHash } from '../config';
import { tellOwner } from '../mail/account-changes';
import { notFound } from '../problems';

const DAY = 24 * 60 * 60 * 1000;
export const TOKEN_DAYS = 365;

/** Makes a personal access token; it is returned this once and stored only as a hash. */
export async function createToken(
  actor: Actor,
  label: string,
  right: TokenRight,
): Promise<{ id: string; token: string }> {
  requirePerson(actor);
  const token = `yurta_${randomBytes(24).toString('base64url')}`;
  const id = uuidv7();
  await db()
    .insert(accessTokens)
    .values({
      id,
      userId: actor.id,
      label,
      right,
      tokenHash: keyedHash('token', token),
      expiresAt: new Date(Date.now() + TOKEN_DAYS * DAY),
    });
  await tellOwner(actor.id, 'token');
  return { id, token };
}

export async function listTokens(actor: Actor): Promise<TokenSummary[]> {
  requirePerson(actor);
  const rows = await db()
    .select()
    .from(accessTokens)
    .where(eq(accessTokens.userId, actor.id))
    .orderBy(desc(accessTokens.createdAt));
  return rows.map((row) => ({
    id: row.id,
    label: row.label,
    right: row.right,
    createdAt: row.createdAt.toISOString(),
    expiresAt: row.expiresAt.toISOString(),
    usedAt: row.usedAt?.toISOString() ?? null,
    state: row.revokedAt ? 'revoked' : row.expiresAt < new Date() ? 'expired' : 'open',
  }));
}

/** Ends a token at once. */
export async function revokeToken(actor: Actor, tokenId: string): Promise<void> {
  requirePerson(actor);
  const revoked = await db()
    .update(accessTokens)
    .set({ revokedAt: new Date() })
    .where(and(eq(accessTokens.id, tokenId), eq(accessTokens.userId, actor.id), isNull(accessTokens.revokedAt)))
    .returning({ id: accessTokens.id });
  if (revoked.length === 0) throw notFound('The access token');
}
