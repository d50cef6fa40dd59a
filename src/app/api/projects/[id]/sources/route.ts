import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import type { StoreSourceDraft } from '@/core/project/model-store';
import { addSource, listSources } from '@/server/model-store/sources';
import { answering, readBody } from '../../../answering';

const schema = Joi.object<StoreSourceDraft>({
  fileId: Joi.string().max(200).required(),
  modelId: Joi.string().uuid(),
  modelName: typedText(120, 'the model’s name'),
  discipline: typedText(60, 'the discipline'),
  follow: Joi.boolean().required(),
});

export const GET = answering(({ actor, params }) => listSources(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => ({
  id: await addSource(actor, params.id!, await readBody(request, schema)),
}));
