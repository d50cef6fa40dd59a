import { makePlans, type PlanElement } from '@/core/plan/make-plans';
import type { RevisionPlans } from '@/core/plan/plan';
import type { BuildingModel } from '@/formats/building-model';
import type { PlacedGeometry } from '../geometry/element-geometry';
import { Pauses } from '../threads/pauses';

/** The plans of a model's storeys, in the model's own coordinates. */
export async function plansOf(
  { elements, storeys }: Pick<BuildingModel, 'elements' | 'storeys'>,
  { pieces, elementBoxes, offset }: PlacedGeometry,
): Promise<RevisionPlans> {
  const planned = new Map<number, PlanElement & { meshes: PlanElement['meshes'][number][] }>();
  for (const { element, positions, indices } of pieces) {
    let one = planned.get(element);
    if (!one) {
      const parent = elements.parent[element] ?? -1;
      one = {
        category: elements.category[element]!,
        whole: parent >= 0 ? elements.category[parent]! : '',
        low: elementBoxes[element * 6 + 2]!,
        high: elementBoxes[element * 6 + 5]!,
        meshes: [],
      };
      planned.set(element, one);
    }
    one.meshes.push({ positions, indices });
  }
  const named = storeys.map(({ name, elevation }) => ({ name, elevation: elevation - offset[2] }));
  const pauses = new Pauses();
  const plans = await makePlans([...planned.values()], named, () => pauses.pause());
  return {
    corner: [plans.corner[0] + offset[0], plans.corner[1] + offset[1]],
    storeys: plans.storeys.map((storey) => ({ ...storey, floor: storey.floor + offset[2] })),
  };
}
