import type { DescribedElement } from '@/core/elements/meets';
import type { BuildingModel } from '@/formats/building-model';

/** The elements of a model as rules ask about them, by row. */
export function describedElements({ elements, storeys, properties }: BuildingModel): DescribedElement[] {
  return elements.guid.map((guid, row): DescribedElement => {
    const fact = (set: string, name: string) => properties[row]?.[set]?.[name];
    const text: DescribedElement['text'] = (column) => {
      if (column === 'storey') return storeys[elements.storey[row]!]?.name ?? '';
      return column === 'type' ? String(fact('Identity', 'Type') ?? '') : elements[column][row]!;
    };
    return { guid, text, fact };
  });
}
