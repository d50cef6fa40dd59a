import { ownActions } from '@/server/review/comment-changes';
import { answering } from '../answering';

export const GET = answering(({ actor }) => ownActions(actor));
