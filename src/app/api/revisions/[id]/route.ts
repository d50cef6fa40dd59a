import { readRevision } from '@/server/projects/projects';
import { answering } from '../../answering';

export const GET = answering(({ actor, params }) => readRevision(actor, params.id!));
