import { createOptionSet, listOptionSets } from '@/server/review/options';
import { answering, readBody, RULES } from '../../../answering';
import { optionSetDraftSchema } from '@/core/options/option-set-schema';

export const GET = answering(({ actor, params }) => listOptionSets(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => ({
  id: await createOptionSet(actor, params.id!, await readBody(request, optionSetDraftSchema, RULES)),
}));
