import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { readView, type ViewState } from '@/core/view/view-state';
import { viewStateSchema } from '@/core/view/view-state-schema';
import { authorise } from '@/server/access/access';
import { receivePicture } from '@/server/review/pictures';
import { listViewpoints, saveViewpoint } from '@/server/review/viewpoints';
import { answering, PICTURED, readBody, requestKey } from '../../../answering';

const schema = Joi.object<{ name: string; state: ViewState; picture?: string; isShared?: boolean; group?: string }>({
  name: typedText(120, 'the name'),
  state: viewStateSchema.required(),
  picture: Joi.string().max(3_000_000),
  isShared: Joi.boolean(),
  group: Joi.string().trim().max(60).allow('').label('the group'),
});

export const GET = answering(({ actor, params }) => listViewpoints(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => {
  await authorise(actor, params.id!, 'viewpoint.edit');
  const { name, state, picture, ...details } = await readBody(request, schema, PICTURED);
  return {
    id: await saveViewpoint(
      actor,
      params.id!,
      name,
      readView(state),
      picture === undefined ? null : await receivePicture(picture),
      requestKey(request, actor),
      details,
    ),
  };
});
