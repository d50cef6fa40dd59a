import Joi from 'joi';
import { authorise } from '@/server/access/access';
import { importBcf, previewBcf } from '@/server/exchange/import-bcf';
import { answering, readBytes, readQuery } from '../../../answering';

const LIMIT = { most: 100 * 1024 * 1024, tooLarge: 'That file is larger than 100 MB. Export fewer topics at once.' };

const schema = Joi.object<{ preview?: '1'; guids?: string }>({
  preview: Joi.valid('1'),
  guids: Joi.string().max(200_000),
});

/**
 * Takes over what was said in a BCF file, which is the body. With `preview=1` says only what that would change; `guids`, apart
 * by commas, names the topics that are wanted.
 */
export const POST = answering(async ({ request, actor, params }) => {
  const { preview, guids } = readQuery(request, schema);
  await authorise(actor, params.id!, 'comment.close');
  const file = await readBytes(request, LIMIT);
  return preview
    ? previewBcf(actor, params.id!, file)
    : importBcf(actor, params.id!, file, guids === undefined ? null : guids.split(','));
});
