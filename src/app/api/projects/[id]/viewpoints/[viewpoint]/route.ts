import { viewpointPatchSchema } from '@/core/project/viewpoint-schema';
import { readView } from '@/core/view/view-state';
import { authorise } from '@/server/access/access';
import { receivePicture } from '@/server/review/pictures';
import { changeViewpoint, duplicateViewpoint, moveViewpoint, setViewpointDeleted } from '@/server/review/viewpoints';
import { answering, PICTURED, readBody, requestKey } from '../../../../answering';

export const PATCH = answering(async ({ request, actor, params }) => {
  await authorise(actor, params.id!, 'viewpoint.edit');
  const { index, deleted, state, picture, ...details } = await readBody(request, viewpointPatchSchema, PICTURED);
  const [project, id] = [params.id!, params.viewpoint!];
  if (deleted !== undefined) await setViewpointDeleted(actor, project, id, deleted);
  if (state !== undefined || Object.keys(details).length > 0)
    await changeViewpoint(actor, project, id, {
      ...details,
      ...(state && { state: readView(state) }),
      ...(picture !== undefined && { picture: await receivePicture(picture) }),
    });
  if (index !== undefined) await moveViewpoint(actor, project, id, index);
});

/** Makes a copy right behind it. */
export const POST = answering(async ({ request, actor, params }) => ({
  id: await duplicateViewpoint(actor, params.id!, params.viewpoint!, requestKey(request, actor)),
}));
