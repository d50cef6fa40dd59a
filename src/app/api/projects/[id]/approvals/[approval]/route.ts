import Joi from 'joi';
import { APPROVAL_ANSWERS, type ApprovalAnswer } from '@/core/project/approval';
import { answerApproval, endApproval } from '@/server/review/approvals';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ answer: ApprovalAnswer; reasons: string }>({
  answer: Joi.string()
    .valid(...APPROVAL_ANSWERS)
    .required(),
  reasons: Joi.string().max(4000).allow('').default('').label('the reasons'),
});

/** Answers as one of those who are asked. */
export const PUT = answering(async ({ request, actor, params }) => {
  const { answer, reasons } = await readBody(request, schema);
  await answerApproval(actor, params.id!, params.approval!, answer, reasons);
});

/** Takes back what was put up. */
export const DELETE = answering(({ actor, params }) => endApproval(actor, params.id!, params.approval!));
