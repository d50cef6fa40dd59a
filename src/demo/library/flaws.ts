import { ifcGuid } from '../ifc/ifc-guid';

/** What is wrong with the services model as it was exported, known by construction: the examination finds exactly this. */
export const SERVICES_FLAWS = {
  'far-away': ['flaw/survey-nail'],
  duplicate: ['light/again-1', 'light/again-2'],
  'inside-out': ['flaw/expansion-vessel'],
  'no-name': ['flaw/unnamed-valve'],
} as const;

export function flawGuids(kind: keyof typeof SERVICES_FLAWS): string[] {
  return SERVICES_FLAWS[kind].map((key) => ifcGuid(`services/${key}`));
}
