import type { Reading } from '../units/figures';
import { KIND_WORDS, type Measure } from './measures';
import { quantitiesOf, quantityText } from './quantities';

/** Rows for a table: what each measure says, as the person reads it and in plain metres, square metres or degrees. */
export function measureRows(measures: readonly Measure[], reading: Reading): string[][] {
  const rows = measures.flatMap((measure) =>
    quantitiesOf(measure).map((quantity) => [
      measure.name || KIND_WORDS[measure.kind],
      KIND_WORDS[measure.kind],
      quantity.name,
      quantityText(quantity, reading),
      String(quantity.of === 'angle' ? (quantity.value * 180) / Math.PI : quantity.value),
      { length: 'm', area: 'm²', angle: '°' }[quantity.of],
    ]),
  );
  return [['Name', 'Kind', 'Quantity', 'As read', 'Value', 'Unit'], ...rows];
}
