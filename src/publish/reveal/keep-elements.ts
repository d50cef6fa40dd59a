import type { BuildingModel } from '@/formats/building-model';

/**
 * The part of a model with only some of its elements. They keep guids, storeys and places; a part whose whole is not
 * kept stands alone. The model that was given is not changed.
 *
 * @param keep by row
 */
export function keepElements(model: BuildingModel, keep: readonly boolean[]): BuildingModel {
  const { elements } = model;
  const rowOf = new Int32Array(elements.guid.length).fill(-1);
  const kept: number[] = [];
  keep.forEach((stays, row) => {
    if (stays) rowOf[row] = kept.push(row) - 1;
  });
  const pick = <T>(column: T[]): T[] => kept.map((row) => column[row]!);
  const guids = new Set(pick(elements.guid));
  const placements = model.placements.flatMap((placement) => {
    const element = rowOf[placement.element]!;
    return element < 0 ? [] : [{ ...placement, element }];
  });
  const warnings = model.warnings.filter((warning) => warning.guid === undefined || guids.has(warning.guid));
  const shaped = (list: BuildingModel['placements']) => new Set(list.map((placement) => placement.element)).size;
  const gone = shaped(model.placements) - shaped(placements) + (model.warnings.length - warnings.length);
  return {
    ...model,
    elements: {
      guid: pick(elements.guid),
      name: pick(elements.name),
      category: pick(elements.category),
      storey: pick(elements.storey),
      system: pick(elements.system),
      room: pick(elements.room),
      material: pick(elements.material),
      discipline: pick(elements.discipline),
      parent: pick(elements.parent).map((parent) => (parent < 0 ? -1 : rowOf[parent]!)),
    },
    placements,
    properties: pick(model.properties),
    warnings,
    productsWithShape: Math.max(0, model.productsWithShape - gone),
  };
}
