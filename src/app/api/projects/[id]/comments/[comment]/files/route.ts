import Joi from 'joi';
import { MOST_ATTACHMENT_BYTES } from '@/core/project/comment';
import { typedText } from '@/core/forms/typed-text-schema';
import { authorise } from '@/server/access/access';
import { attach } from '@/server/review/attachments';
import { answering, readBytes, readQuery } from '../../../../../answering';

const schema = Joi.object<{ name: string }>({ name: typedText(200, 'the file’s name') });

/** Adds a picture or a file, which is the body, to one's own comment or answer. */
export const POST = answering(async ({ request, actor, params }) => {
  const { name } = readQuery(request, schema);
  await authorise(actor, params.id!, 'comment.write');
  const content = await readBytes(request, {
    most: MOST_ATTACHMENT_BYTES,
    tooLarge: 'That file is larger than 20 MB. Put it somewhere else and say where it is.',
  });
  return attach(actor, params.id!, params.comment!, { name, content });
});
