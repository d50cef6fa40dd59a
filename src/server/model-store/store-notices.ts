import { createHmac, timingSafeEqual } from 'node:crypto';
import { eq } from 'drizzle-orm';
import Joi from 'joi';
import { db } from '@/db/database';
import { storeSources } from '@/db/schema';
import { Problem } from '../problems';
import { unseal } from '../access/seal';
import { SECRET } from './sources';
import { noticeVersion } from './take';

/** A notice older than this is taken for a repeated one. */
const FRESH_SECONDS = 300;

const schema = Joi.object<{ type: 'file.version'; file: string; version: number }>({
  type: Joi.string().valid('file.version').required(),
  file: Joi.string().max(200).required(),
  version: Joi.number().integer().min(1).required(),
})
  .unknown(true)
  .required();

/**
 * Hears from the store that a file has a new version.
 *
 * @param signature the header `Store-Signature`: `t=` seconds since 1970 and `v1=` HMAC-SHA256, in hex, of time, dot and body
 * @throws Problem 410 if nobody follows the file any more, 401 if the store did not sign it or it is old
 */
export async function hearNotice(sourceId: string, signature: string, body: string): Promise<void> {
  const [source] = await db().select().from(storeSources).where(eq(storeSources.id, sourceId));
  if (!source) throw new Problem(410, 'Nobody follows this file any more.');
  const [, time = '', given = ''] = /^t=(\d{1,12}),v1=([0-9a-f]{64})$/.exec(signature) ?? [];
  const own = createHmac('sha256', unseal(SECRET, source.secret)).update(`${time}.${body}`).digest();
  const isSigned = given !== '' && timingSafeEqual(own, Buffer.from(given, 'hex'));
  const isFresh = Math.abs(Date.now() / 1000 - Number(time)) < FRESH_SECONDS;
  if (!isSigned || !isFresh) throw new Problem(401, 'This notice is not signed by the store, or it is old.');
  const { error, value } = schema.validate(safeJson(body), { convert: false });
  if (error) throw new Problem(400, `The notice is not understood: ${error.message}.`);
  if (value.file !== source.fileId) throw new Problem(400, 'The notice is about another file.');
  await noticeVersion(source, value.version);
}

function safeJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
