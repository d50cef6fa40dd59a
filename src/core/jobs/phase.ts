/** What a publication goes through, in this order. */
export const PUBLISH_PHASES = ['reading', 'examining', 'tiling', 'indexing', 'storing'] as const;
export type PublishPhase = (typeof PUBLISH_PHASES)[number];

export function isPublishPhase(text: string): text is PublishPhase {
  return (PUBLISH_PHASES as readonly string[]).includes(text);
}
