import { addFileCameras } from '@/server/review/file-cameras';
import { answering } from '../../../answering';

/** Puts the cameras of a revision's file at the end of the running order. */
export const POST = answering(async ({ actor, params }) => ({ added: await addFileCameras(actor, params.id!) }));
