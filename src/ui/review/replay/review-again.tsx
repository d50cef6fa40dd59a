'use client';
import { ReviewRoom } from '../review';
import { ReviewSession } from '../session';
import type { ReviewStart } from '../review-state';
import { Replaying } from './replaying';

/** The Review of a meeting that is seen again. */
export function ReviewAgain({ start, replay }: { start: ReviewStart; replay: NonNullable<ReviewStart['replay']> }) {
  return (
    <ReviewRoom
      start={start}
      begin={() => new ReviewSession(start, (store, view) => new Replaying(store, replay, view))}
    />
  );
}
