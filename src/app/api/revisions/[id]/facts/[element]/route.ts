import { Problem } from '@/server/problems';
import { readFacts } from '@/server/projects/facts';
import { answering } from '../../../../answering';

export const GET = answering(({ actor, params }) => {
  if (!/^\d{1,9}$/.test(params.element!)) throw new Problem(400, 'The element is given by its row, a whole number.');
  return readFacts(actor, params.id!, Number(params.element));
});
