import { dimensions, MOST_MARK_POINTS, type Mark } from './marks';

/** What a mark that is being drawn has got since it was told of last. */
export interface MarkGrowth {
  /** All but the points that were told before. */
  mark: Mark;
  /** How many numbers were told before; 0 tells it whole. */
  from: number;
}

/** What is to be told of a mark of which others know so much. A mark that was thinned meanwhile is told whole. */
export function growthOf(mark: Mark, told: Mark | null): MarkGrowth {
  const isLonger =
    told?.id === mark.id &&
    told.points.length <= mark.points.length &&
    told.points.every((value, i) => value === mark.points[i]);
  const from = isLonger ? told.points.length : 0;
  return {
    mark: {
      ...mark,
      points: mark.points.slice(from),
      pressures: mark.pressures.slice(from / dimensions(mark.kind)),
    },
    from,
  };
}

/** A mark with its growth; null where some of it was missed: then nothing shows until it is told whole or done. */
export function grown(known: Mark | undefined, { mark, from }: MarkGrowth): Mark | null {
  if (from === 0) return mark;
  if (known?.points.length !== from || from + mark.points.length > 3 * MOST_MARK_POINTS) return null;
  return {
    ...mark,
    points: [...known.points, ...mark.points],
    pressures: [...known.pressures, ...mark.pressures],
  };
}
