import { listAssignees } from '@/server/review/assignees';
import { answering } from '../../../answering';

export const GET = answering(({ actor, params }) => listAssignees(actor, params.id!));
