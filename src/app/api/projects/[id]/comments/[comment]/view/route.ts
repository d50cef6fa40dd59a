import { commentView } from '@/server/review/comments';
import { answering } from '../../../../../answering';

/** What was seen when something was said. */
export const GET = answering(({ actor, params }) => commentView(actor, params.id!, params.comment!));
