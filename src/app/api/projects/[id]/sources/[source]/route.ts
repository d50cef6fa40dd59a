import Joi from 'joi';
import { followSource, removeSource, takeSource } from '@/server/model-store/sources';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ follow: boolean }>({ follow: Joi.boolean().required() });

/** Takes the newest version. */
export const POST = answering(({ actor, params }) => takeSource(actor, params.id!, params.source!));

export const PATCH = answering(async ({ request, actor, params }) =>
  followSource(actor, params.id!, params.source!, (await readBody(request, schema)).follow),
);

export const DELETE = answering(({ actor, params }) => removeSource(actor, params.id!, params.source!));
