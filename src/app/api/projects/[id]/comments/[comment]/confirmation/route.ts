import { confirmDecision } from '@/server/review/decisions';
import { answering } from '../../../../../answering';

/** Says in the meeting that a decision stands as it is written. */
export const POST = answering(({ actor, params }) => confirmDecision(actor, params.id!, params.comment!));
