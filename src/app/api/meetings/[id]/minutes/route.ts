import Joi from 'joi';
import type { MinutesCorrections } from '@/core/meeting/minutes-corrections';
import { correctMinutes, readMinutesDraft, releaseMinutes } from '@/server/minutes/minutes';
import { answering, readBody } from '../../../answering';

const MOST = 5000;
const LIMIT = { most: 4 * 1024 * 1024, tooLarge: 'These minutes are longer than can be stored. Shorten them.' };

const schema = Joi.object<MinutesCorrections>({
  foreword: Joi.string().max(10_000).allow('').required().label('the foreword'),
  words: Joi.object().pattern(Joi.string().uuid(), Joi.string().max(4000)).max(MOST).required(),
  left: Joi.array().items(Joi.string().uuid()).max(MOST).required(),
});

/** Minutes as the lead corrects them. */
export const GET = answering(({ actor, params }) => readMinutesDraft(actor, params.id!));

export const PUT = answering(async ({ request, actor, params }) => {
  await correctMinutes(actor, params.id!, await readBody(request, schema, LIMIT));
});

/** Lets minutes go out that waited to be read. */
export const POST = answering(({ actor, params }) => releaseMinutes(actor, params.id!));
