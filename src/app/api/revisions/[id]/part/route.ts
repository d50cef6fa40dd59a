import Joi from 'joi';
import type { PublishSettings } from '@/core/project/publish-settings';
import { publishSettingsSchema } from '@/core/project/publish-settings-schema';
import { publishPart } from '@/server/publishing/publishing';
import { answering, readBody, RULES } from '../../../answering';

const schema = (publishSettingsSchema as Joi.ObjectSchema).keys({
  name: Joi.string().trim().min(1).max(120).required().label('the model’s name'),
}) as Joi.ObjectSchema<PublishSettings & { name: string }>;

/** Part of a revision that is looked at becomes a model of its own. */
export const POST = answering(async ({ request, actor, params }) => ({
  revisionId: await publishPart(actor, params.id!, await readBody(request, schema, RULES)),
}));
