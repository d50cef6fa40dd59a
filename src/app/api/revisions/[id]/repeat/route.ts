import { repeatRevision } from '@/server/publishing/revision-history';
import { answering } from '../../../answering';

/** Makes an older revision the newest again, under a new number. */
export const POST = answering(async ({ actor, params }) => ({ revisionId: await repeatRevision(actor, params.id!) }));
