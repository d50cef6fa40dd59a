import { restoreRevision, withdrawRevision } from '@/server/publishing/revision-history';
import { answering } from '../../../answering';

/** Takes a published revision back. */
export const POST = answering(({ actor, params }) => withdrawRevision(actor, params.id!));

/** Lets it stand again. */
export const DELETE = answering(({ actor, params }) => restoreRevision(actor, params.id!));
