/** What a publication goes through, in this order. */
export const PUBLISH_STAGES = ['reading', 'examining', 'tiling', 'indexing', 'storing'] as const;
export type PublishStage = (typeof PUBLISH_STAGES)[number];

export function isPublishStage(text: string): text is PublishStage {
  return (PUBLISH_STAGES as readonly string[]).includes(text);
}
