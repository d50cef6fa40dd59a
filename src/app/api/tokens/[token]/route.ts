import { revokeToken } from '@/server/tokens';
import { answering } from '../../answering';

export const DELETE = answering(({ actor, params }) => revokeToken(actor, params.token!));
