import Joi from 'joi';
import { INTENTS, type PublishIntent } from '@/core/project/publish-settings';
import { requestPublication } from '@/server/publishing';
import { finishedUpload, forgetUpload } from '@/server/uploads';
import { answering, readBody } from '../../../answering';

const schema = Joi.object<{
  uploadId: string;
  modelId?: string;
  modelName?: string;
  discipline?: string;
  note: string;
  intent: PublishIntent;
}>({
  uploadId: Joi.string().hex().max(64).required(),
  modelId: Joi.string().uuid(),
  modelName: Joi.string().min(1).max(120).label('the model’s name'),
  discipline: Joi.string().min(1).max(60).label('the discipline'),
  intent: Joi.valid(...INTENTS).default('publish'),
  note: Joi.string().allow('').max(500).default('').label('the note'),
});

/** Publishes a finished upload as a model's next revision, or as a new model. */
export const POST = answering(async ({ request, actor, params }) => {
  const { uploadId, ...rest } = await readBody(request, schema);
  const revisionId = await requestPublication(actor, {
    ...rest,
    ...(await finishedUpload(actor, uploadId)),
    projectId: params.id!,
  });
  await forgetUpload(uploadId);
  return { revisionId };
});
