/** What somebody answers who is asked to approve a revision. */
export const APPROVAL_ANSWERS = ['approved', 'with-comments', 'resubmit'] as const;
export type ApprovalAnswer = (typeof APPROVAL_ANSWERS)[number];

export const ANSWER_WORDS: Record<ApprovalAnswer, string> = {
  approved: 'Approved',
  'with-comments': 'Approved with comments',
  resubmit: 'Revise and resubmit',
};

/**
 * For what a revision is put up: the suitability codes of shared and published information, as national annexes of
 * ISO 19650-2 list them.
 */
export const SUITABILITIES = ['S1', 'S2', 'S3', 'S4', 'S5', 'A1', 'B1'] as const;
export type Suitability = (typeof SUITABILITIES)[number];

export const SUITABILITY_WORDS: Record<Suitability, string> = {
  S1: 'for coordination',
  S2: 'for information',
  S3: 'for review and comment',
  S4: 'for stage approval',
  S5: 'for review and authorisation',
  A1: 'authorised and accepted',
  B1: 'partially accepted, with comments',
};

/** Somebody who is asked, and what they answered. */
export interface Approver {
  id: string;
  name: string;
  isYou: boolean;
  answer: ApprovalAnswer | null;
  reasons: string;
  answeredAt: string | null;
}

export const APPROVAL_STATES = ['waiting', 'approved', 'with-comments', 'resubmit', 'ended'] as const;
export type ApprovalState = (typeof APPROVAL_STATES)[number];

export const APPROVAL_STATE_WORDS: Record<ApprovalState, string> = {
  waiting: 'Waiting for answers',
  ...ANSWER_WORDS,
  ended: 'Taken back',
};

/** A revision that is put up for approval. */
export interface Approval {
  id: string;
  projectId: string;
  revisionId: string;
  /** Of the model, with the revision's code. */
  revision: string;
  note: string;
  suitability: Suitability | null;
  question: string;
  dueOn: string | null;
  askedBy: string;
  createdAt: string;
  state: ApprovalState;
  approvers: Approver[];
}

/**
 * Where an approval stands: one who sends it back decides at once; otherwise it waits until all have answered, and one
 * comment makes it an approval with comments.
 */
export function approvalState(answers: readonly (ApprovalAnswer | null)[], isEnded: boolean): ApprovalState {
  if (answers.includes('resubmit')) return 'resubmit';
  if (isEnded) return 'ended';
  if (answers.length === 0 || answers.includes(null)) return 'waiting';
  return answers.includes('with-comments') ? 'with-comments' : 'approved';
}

/** The approval of a revision that counts: the newest that was not taken back. @param all newest first */
export function approvalOf<T extends Pick<Approval, 'revisionId' | 'state'>>(
  all: readonly T[],
  revisionId: string,
): T | null {
  return all.find((one) => one.revisionId === revisionId && one.state !== 'ended') ?? null;
}

/** Where an approval stands, in a few words: "Approved with comments, S4". */
export function approvalWords({
  state,
  suitability,
  approvers,
}: Pick<Approval, 'state' | 'suitability'> & { approvers: readonly Pick<Approver, 'answer'>[] }): string {
  const answered = approvers.filter(({ answer }) => answer !== null).length;
  const words =
    state === 'waiting' ? `Up for approval, ${answered} of ${approvers.length} answered` : APPROVAL_STATE_WORDS[state];
  return suitability ? `${words}, ${suitability}` : words;
}
