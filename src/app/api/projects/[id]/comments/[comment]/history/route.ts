import { commentHistory } from '@/server/review/comment-changes';
import { answering } from '../../../../../answering';

export const GET = answering(({ actor, params }) => commentHistory(actor, params.id!, params.comment!));
