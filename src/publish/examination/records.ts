import { ROOM_CATEGORY } from '@/core/elements/element-flags';
import type { BuildingModel } from '@/formats/building-model';
import type { Piece } from '../geometry/element-geometry';
import type { Check, Examined } from './examined';

/** Opacity below which nothing of a surface is to be seen. */
const UNSEEN = 0.02;

/** Whether nothing of a piece is to be seen: its material, or the paint of all of its vertices, is clear. */
export function isUnseen({ material, colors }: Piece, { materials }: BuildingModel): boolean {
  if (!colors) return materials[material]!.color[3] < UNSEEN;
  for (let alpha = 3; alpha < colors.length; alpha += 4) if (colors[alpha]! >= UNSEEN * 255) return false;
  return true;
}

/** Things that are there and wholly clear, as programs write them that count opacity from the other end. */
export function findUnseen({ model, pieces }: Examined): Check {
  const rows = pieces.flatMap((own, row) =>
    own.length > 0 && own.every((piece) => isUnseen(piece, model)) ? [row] : [],
  );
  return {
    rows,
    detail: 'The file calls their material wholly see-through; some programs write that where they mean solid.',
  };
}

/** Elements whose guid another element has too: comments and facts could land on the wrong one. */
export function findRepeatedGuids({ model }: Examined): Check {
  const seen = new Set<string>();
  const rows = model.elements.guid.flatMap((guid, row) => {
    if (seen.has(guid)) return [row];
    seen.add(guid);
    return [];
  });
  return { rows, detail: 'Comments and facts go to the first of those that share an identity.' };
}

/** Things that stand on no storey, in a model that has storeys. */
export function findWithoutStorey({ model, boxes }: Examined): Check {
  const { storey } = model.elements;
  const rows = model.storeys.length === 0 ? [] : storey.flatMap((at, row) => (at < 0 && boxes[row] ? [row] : []));
  return { rows, detail: 'Not seen by those who look at one storey only.' };
}

/** Things that have no name of their own, only that of their kind. */
export function findWithoutName({ model, boxes }: Examined): Check {
  const { name, category } = model.elements;
  const rows = name.flatMap((own, row) => (boxes[row] && (own === '' || own === category[row]) ? [row] : []));
  return { rows, detail: 'People who search or point at them read only what kind of thing it is.' };
}

/** Things without a material and in the plain white that stands for none. */
export function findWithoutMaterial({ model, pieces }: Examined): Check {
  const { material, category } = model.elements;
  const isWhite = (index: number) => model.materials[index]!.color.every((part) => part === 1);
  const rows = pieces.flatMap((own, row) =>
    own.length > 0 &&
    material[row] === '' &&
    category[row] !== ROOM_CATEGORY &&
    own.every((piece) => !piece.colors && isWhite(piece.material))
      ? [row]
      : [],
  );
  return { rows, detail: 'Shown in plain white.' };
}
