import { retryPublication } from '@/server/publishing/publishing';
import { answering } from '../../../answering';

export const POST = answering(({ actor, params }) => retryPublication(actor, params.id!));
