import { useEffect, useState } from 'react';
import type { RevisionPlans } from '@/core/plan/plan';
import { useReview } from '../session-context';
import { levelsOf, type Level } from './levels';

/** Plans by address: a revision's never change. */
const known = new Map<string, Promise<RevisionPlans | null>>();

function plansAt(baseUrl: string): Promise<RevisionPlans | null> {
  const there = known.get(baseUrl);
  if (there) return there;
  // Revisions from before there were plans have none; what cannot be had is asked for again the next time.
  const plans = fetch(`${baseUrl}plans.json`)
    .then((answer) => (answer.ok ? (answer.json() as Promise<RevisionPlans>) : null))
    .catch(() => {
      known.delete(baseUrl);
      return null;
    });
  known.set(baseUrl, plans);
  return plans;
}

/** The storeys of the models that are open, with their plans; null until they are there. */
export function useLevels(): Level[] | null {
  const models = useReview((state) => state.models);
  const [levels, setLevels] = useState<Level[] | null>(null);
  useEffect(() => {
    let isWanted = true;
    void Promise.all(models.map(async (model) => ({ ...model, plans: await plansAt(model.baseUrl) }))).then((all) => {
      if (isWanted) setLevels(levelsOf(all.flatMap(({ plans, ...model }) => (plans ? [{ ...model, plans }] : []))));
    });
    return () => {
      isWanted = false;
    };
  }, [models]);
  return levels;
}
