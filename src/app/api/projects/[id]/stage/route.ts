import { newestRevisions } from '@/server/projects';
import { answering } from '../../../answering';

export const GET = answering(({ actor, params }) => newestRevisions(actor, params.id!));
