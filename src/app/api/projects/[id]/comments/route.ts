import Joi from 'joi';
import { Problem } from '@/server/problems';
import { commentTextSchema } from '@/core/forms/name-schema';
import type { ElementRef } from '@/core/elements/element-ref';
import { elementRefSchema } from '@/core/elements/element-set-schema';
import type { Vec3 } from '@/core/math/mat4';
import type { CommentChange } from '@/core/project/comment';
import { commentDetails, commentsChangeSchema } from '@/core/project/comment-schema';
import { vec3Schema } from '@/core/view/camera-schema';
import { readView, type ViewState } from '@/core/view/view-state';
import { viewStateSchema } from '@/core/view/view-state-schema';
import { authorise } from '@/server/access/access';
import { Pace } from '@/server/access/pace';
import { changeComments } from '@/server/review/comment-changes';
import { listComments, say } from '@/server/review/comments';
import { receivePicture } from '@/server/review/pictures';
import { answering, PICTURED, readBody, requestKey } from '../../../answering';

interface Body extends Pick<CommentChange, 'kind' | 'assignee' | 'dueOn' | 'priority'> {
  text: string;
  replyTo?: string;
  anchor?: { element: ElementRef | null; point: Vec3 };
  elementName?: string;
  view?: ViewState;
  picture?: string;
  viewpointId?: string;
}

const schema = Joi.object<Body>({
  text: commentTextSchema.extract('text'),
  replyTo: Joi.string().uuid(),
  anchor: Joi.object({ element: elementRefSchema.allow(null).required(), point: vec3Schema }),
  elementName: Joi.string().allow('').max(300),
  view: viewStateSchema,
  picture: Joi.string().max(3_000_000),
  viewpointId: Joi.string().uuid(),
  ...commentDetails,
});

export const GET = answering(({ actor, params }) => listComments(actor, params.id!));

/** Of a view that goes with words: some ten thousand elements one by one. */
const MOST_VIEW_LETTERS = 512 * 1024;

/** As fast as people speak; what programs bring in many at a time comes as a BCF file. */
const speech = new Pace(60, 60, 'That is more than one person says in a minute. Wait a little, then say it.');

export const POST = answering(async ({ request, actor, params }) => {
  await speech.count(actor.id);
  await authorise(actor, params.id!, 'comment.write');
  const { picture, view, ...comment } = await readBody(request, schema, PICTURED);
  if (view && JSON.stringify(view).length > MOST_VIEW_LETTERS)
    throw new Problem(
      413,
      'That view names too many elements one by one. Choose them by storey or category, then say it.',
    );
  const said = {
    ...comment,
    ...(view && { view: readView(view) }),
    picture: picture === undefined ? undefined : await receivePicture(picture),
  };
  return { id: await say(actor, params.id!, said, requestKey(request, actor)) };
});

/** Changes several comments in the same way; all of them or none. */
export const PATCH = answering(async ({ request, actor, params }) => {
  const { ids, change } = await readBody(request, commentsChangeSchema);
  await changeComments(actor, params.id!, ids, change);
});
