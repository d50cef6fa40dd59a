import { readRecording } from '@/server/review/replay';
import { answering } from '../../../answering';

/** A meeting as it was, to be seen again. */
export const GET = answering(({ actor, params }) => readRecording(actor, params.id!));
