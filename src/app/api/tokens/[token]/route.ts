import { revokeToken } from '@/server/access/tokens';
import { answering } from '../../answering';

export const DELETE = answering(({ actor, params }) => revokeToken(actor, params.token!));
