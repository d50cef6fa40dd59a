import { readProject } from '@/server/projects/projects';
import { answering } from '../../answering';

export const GET = answering(({ actor, params }) => readProject(actor, params.id!));
