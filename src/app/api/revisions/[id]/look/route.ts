import { lookAgain } from '@/server/publishing/revision-history';
import { answering } from '../../../answering';

/** The revision's file is read once more, to be decided about. */
export const POST = answering(async ({ actor, params }) => ({ revisionId: await lookAgain(actor, params.id!) }));
