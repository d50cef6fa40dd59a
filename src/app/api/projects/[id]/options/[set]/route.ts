import { changeOptionSet, deleteOptionSet } from '@/server/review/options';
import { answering, readBody, RULES } from '../../../../answering';
import { optionSetDraftSchema } from '@/core/options/option-set-schema';

export const PATCH = answering(async ({ request, actor, params }) =>
  changeOptionSet(actor, params.id!, params.set!, await readBody(request, optionSetDraftSchema, RULES)),
);

export const DELETE = answering(({ actor, params }) => deleteOptionSet(actor, params.id!, params.set!));
