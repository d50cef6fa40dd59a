import { stopPublication } from '@/server/publishing/publishing';
import { answering } from '../../../answering';

export const POST = answering(({ actor, params }) => stopPublication(actor, params.id!));
