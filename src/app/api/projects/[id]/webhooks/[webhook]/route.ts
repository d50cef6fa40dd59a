import { removeWebhook } from '@/server/exchange/webhooks';
import { answering } from '../../../../answering';

export const DELETE = answering(({ actor, params }) => removeWebhook(actor, params.id!, params.webhook!));
