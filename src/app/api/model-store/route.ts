import { readConnection } from '@/server/model-store/connections';
import { disconnect } from '@/server/model-store/disconnect';
import { answering } from '../answering';

export const GET = answering(async ({ actor }) => Response.json(await readConnection(actor)));

export const DELETE = answering(({ actor }) => disconnect(actor));
