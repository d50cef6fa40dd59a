import Joi from 'joi';
import { SUITABILITIES } from '@/core/project/approval';
import { askForApproval, listApprovals, type ApprovalDraft } from '@/server/review/approvals';
import { dayOrNone } from '@/core/project/comment-schema';
import { answering, readBody } from '../../../answering';

const MOST_APPROVERS = 30;

const schema = Joi.object<ApprovalDraft>({
  revisionId: Joi.string().uuid().required(),
  suitability: Joi.string()
    .valid(...SUITABILITIES)
    .allow(null)
    .default(null),
  question: Joi.string().trim().max(1000).allow('').default('').label('the question'),
  dueOn: dayOrNone.default(null),
  approvers: Joi.array()
    .items(
      Joi.object({ id: Joi.string().max(64).required() }),
      Joi.object({ email: Joi.string().email({ tlds: false }).max(200).required() }),
    )
    .min(1)
    .max(MOST_APPROVERS)
    .required()
    .label('who is asked')
    .messages({ 'array.min': 'name somebody who is asked', 'alternatives.types': 'one of those who are asked has no mail address' }), // prettier-ignore
});

export const GET = answering(({ actor, params }) => listApprovals(actor, params.id!));

/** Puts a revision up for approval. */
export const POST = answering(async ({ request, actor, params }) => ({
  id: await askForApproval(actor, params.id!, await readBody(request, schema)),
}));
