import { columnValue } from '@/core/elements/element-index';
import { ROOM_CATEGORY } from '@/core/elements/element-flags';
import { boxCentre, emptyBox, expandByBox, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { Stage } from '@/stage/stage';

export interface RoomLabel {
  name: string;
  /** Project coordinates. */
  at: Vec3;
  /** East to west, metres. */
  width: number;
}

/** The rooms of all models, by their own shapes; where a file gives rooms none, by what stands in them. */
export function roomsOf(stage: Stage | null): RoomLabel[] {
  const rooms = new Map<string, RoomLabel>();
  for (const model of stage?.loadedModels ?? []) {
    const { index } = model;
    const shaped = new Map<string, Box3>();
    const filled = new Map<string, Box3>();
    const add = (boxes: Map<string, Box3>, key: string, row: number) => {
      const own = model.elementBox(row);
      if (isEmptyBox(own)) return;
      const box = boxes.get(key) ?? emptyBox();
      expandByBox(box, own);
      boxes.set(key, box);
    };
    for (let row = 0; row < index.count; row++) {
      const room = columnValue(index.room, row);
      if (columnValue(index.category, row) === ROOM_CATEGORY) add(shaped, index.name[row] || room, row);
      else if (room) add(filled, room, row);
    }
    for (const [name, box] of shaped.size > 0 ? shaped : filled) {
      const label = { name, at: boxCentre(box), width: box[3] - box[0] };
      label.at[2] = box[2] + 0.2;
      if (name && !rooms.has(`${name}/${Math.round(box[2])}`)) rooms.set(`${name}/${Math.round(box[2])}`, label);
    }
  }
  return [...rooms.values()];
}
