import Joi from 'joi';
import type { OptionChoice } from '@/core/options/option-set';
import { LINK_RIGHTS, type LinkRight } from '@/core/rights';
import { createLink, listLinks } from '@/server/links';
import { answering, originOf, readBody, typedText } from '../../../answering';
import { optionChoiceSchema } from '@/core/options/option-set-schema';

const schema = Joi.object<{ right: LinkRight; label: string; options: OptionChoice }>({
  right: Joi.valid(...LINK_RIGHTS).required(),
  label: typedText(80, 'whom it is for'),
  options: optionChoiceSchema.default({}),
});

export const GET = answering(({ actor, params }) => listLinks(actor, params.id!));

export const POST = answering(async ({ request, actor, params }) => {
  const { right, label, options } = await readBody(request, schema);
  return createLink(actor, params.id!, right, label, originOf(request), options);
});
