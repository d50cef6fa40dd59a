import { extensionsOf } from '@/server/exchange/bcf-api';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(({ actor, params }) => extensionsOf(actor, params.id!));
