import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { changeSnapshot, deleteSnapshot } from '@/server/review/snapshots';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ name?: string; group?: string }>({
  name: typedText(120, 'the name').optional(),
  group: Joi.string().trim().max(60).allow('').label('the group'),
}).min(1);

export const PATCH = answering(async ({ request, actor, params }) => {
  await changeSnapshot(actor, params.id!, params.snapshot!, await readBody(request, schema));
});

export const DELETE = answering(({ actor, params }) => deleteSnapshot(actor, params.id!, params.snapshot!));
