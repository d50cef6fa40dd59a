import Joi from 'joi';
import { MOST_SNAPSHOT_BYTES } from '@/core/project/snapshot';
import { typedText } from '@/core/forms/typed-text-schema';
import { authorise } from '@/server/access/access';
import { keepSnapshot, listSnapshots } from '@/server/review/snapshots';
import { answering, readBytes, readQuery, requestKey } from '../../../answering';

const schema = Joi.object<{ name: string; group: string }>({
  name: typedText(120, 'the name'),
  group: Joi.string().trim().max(60).allow('').default('').label('the group'),
});

export const GET = answering(({ actor, params }) => listSnapshots(actor, params.id!));

/** The body is the picture itself; its name and group stand in the address. */
export const POST = answering(async ({ request, actor, params }) => {
  const { name, group } = readQuery(request, schema);
  await authorise(actor, params.id!, 'viewpoint.edit');
  const picture = await readBytes(request, {
    most: MOST_SNAPSHOT_BYTES,
    tooLarge: 'That picture is too large to keep. Take a smaller one.',
  });
  return { id: await keepSnapshot(actor, params.id!, { name, group, picture }, requestKey(request, actor)) };
});
