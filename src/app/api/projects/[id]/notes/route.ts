import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { elementRefSchema } from '@/core/elements/element-set-schema';
import type { CommentAnchor } from '@/core/project/comment';
import { vec3Schema } from '@/core/view/camera-schema';
import { readView, type ViewState } from '@/core/view/view-state';
import { viewStateSchema } from '@/core/view/view-state-schema';
import { authorise } from '@/server/access/access';
import { listNotes, takeNote } from '@/server/review/notes';
import { receivePicture } from '@/server/review/pictures';
import { answering, PICTURED, readBody, requestKey } from '../../../answering';

const schema = Joi.object<{
  text: string;
  anchor?: CommentAnchor;
  elementName?: string;
  view?: ViewState;
  picture?: string;
}>({
  text: typedText(4000, 'the note'),
  anchor: Joi.object({ element: elementRefSchema.allow(null).required(), point: vec3Schema }),
  elementName: Joi.string().allow('').max(300),
  view: viewStateSchema,
  picture: Joi.string().max(3_000_000),
});

export const GET = answering(({ actor, params }) => listNotes(actor, params.id!));

/** Notes something for oneself. */
export const POST = answering(async ({ request, actor, params }) => {
  await authorise(actor, params.id!, 'comment.write');
  const { picture, view, ...note } = await readBody(request, schema, PICTURED);
  const taken = {
    ...note,
    ...(view && { view: readView(view) }),
    ...(picture !== undefined && { picture: await receivePicture(picture) }),
  };
  return { id: await takeNote(actor, params.id!, taken, requestKey(request, actor)) };
});
