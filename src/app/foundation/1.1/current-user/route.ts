import { requireUser } from '@/server/access/access';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(async ({ actor }) => {
  requireUser(actor);
  return { id: actor.email, name: actor.name };
});
