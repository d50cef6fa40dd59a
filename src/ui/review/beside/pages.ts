/** What can stand in a window of its own. */
export const BESIDE_PAGES = ['contents', 'facts', 'talk', 'drawing', 'plan', 'view'] as const;
export type BesidePage = (typeof BESIDE_PAGES)[number];

export const BESIDE_WORDS: Record<BesidePage, string> = {
  contents: 'Contents',
  facts: 'Facts',
  talk: 'Talk',
  drawing: 'Flat drawing',
  plan: 'Plan',
  view: 'Second view',
};

export function besidePage(text: string | undefined): BesidePage | null {
  return BESIDE_PAGES.find((one) => one === text) ?? null;
}
