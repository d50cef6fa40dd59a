import Joi from 'joi';
import type { PublishSettings } from '@/core/project/publish-settings';
import { discardRevision, decideRevision } from '@/server/publishing/publishing';
import { answering, readBody, RULES } from '../../../answering';
import { publishSettingsSchema } from '@/core/project/publish-settings-schema';

const schema = (publishSettingsSchema as Joi.ObjectSchema).keys({
  publish: Joi.boolean().required(),
}) as Joi.ObjectSchema<PublishSettings & { publish: boolean }>;

/** Decides about a revision that is ready to be looked at. */
export const POST = answering(async ({ request, actor, params }) =>
  decideRevision(actor, params.id!, await readBody(request, schema, RULES)),
);

/** Puts it aside for good. */
export const DELETE = answering(({ actor, params }) => discardRevision(actor, params.id!));
