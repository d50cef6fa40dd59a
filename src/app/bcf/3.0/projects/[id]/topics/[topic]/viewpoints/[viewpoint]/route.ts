import { readTopicViewpoint } from '@/server/exchange/bcf-api';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(({ actor, params }) => readTopicViewpoint(actor, params.id!, params.topic!, params.viewpoint!)); // prettier-ignore
