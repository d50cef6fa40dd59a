import Joi from 'joi';
import type { ElementRef, ViewState } from '@/core/viewpoint';
import type { Vec3 } from '@/core/math/mat4';
import { listComments, say } from '@/server/comments';
import { receivePicture } from '@/server/pictures';
import { answering, readBody, typedText } from '../../../answering';
import { elementRefSchema, vec3Schema, viewStateSchema } from '@/core/viewpoint-schema';

interface Body {
  text: string;
  replyTo?: string;
  anchor?: { element: ElementRef | null; point: Vec3 };
  elementName?: string;
  view?: ViewState;
  picture?: string;
}

const schema = Joi.object<Body>({
  text: typedText(4000, 'the comment'),
  replyTo: Joi.string().uuid(),
  anchor: Joi.object({ element: elementRefSchema.allow(null).required(), point: vec3Schema }),
  elementName: Joi.string().allow('').max(300),
  view: viewStateSchema,
  picture: Joi.string().max(3_000_000),
});

export const GET = answering(({ actor, params }) => listComments(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => {
  const { picture, ...comment } = await readBody(request, schema);
  return {
    id: await say(actor, params.id!, {
      ...comment,
      picture: picture === undefined ? undefined : await receivePicture(picture),
    }),
  };
});
