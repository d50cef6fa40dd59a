import Joi from 'joi';
import type { PlacementChoice } from '@/core/placement/placement';
import { placeModel } from '@/server/projects/placing';
import { answering, readBody } from '../../../../answering';
import { placementChoiceSchema } from '@/core/placement/placement-schema';

const schema = Joi.object<{ placement: PlacementChoice }>({ placement: placementChoiceSchema.required() });

/** Decides how a model finds its place in the project. */
export const PATCH = answering(async ({ request, actor, params }) => {
  const { placement } = await readBody(request, schema);
  await placeModel(actor, params.id!, params.model!, placement);
});
