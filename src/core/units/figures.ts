/** In which units a person reads figures. */
export const READING_UNITS = ['m', 'cm', 'mm', 'ft'] as const;
export type ReadingUnit = (typeof READING_UNITS)[number];

/** How a person reads figures: their own choice, which changes nothing that is stored. */
export interface Reading {
  unit: ReadingUnit;
  /** Decimals of lengths in metric units. */
  decimals: Record<Exclude<ReadingUnit, 'ft'>, number>;
  /** Inches are given to one part of so many. */
  fraction: number;
}

export const FRACTIONS = [1, 2, 4, 8, 16, 32, 64] as const;
export const MOST_DECIMALS = 4;
export const FIRST_READING: Reading = { unit: 'm', decimals: { m: 3, cm: 1, mm: 0 }, fraction: 16 };

const FOOT = 0.3048;
const PER_METRE = { m: 1, cm: 100, mm: 1000 };

/** A length in words, such as `3.452 m` or `11′ 3 7/8″`. @param metres of any sign */
export function lengthText(metres: number, { unit, decimals, fraction }: Reading): string {
  if (unit === 'ft') return feetText(metres, fraction);
  return `${fixed(metres * PER_METRE[unit], decimals[unit])} ${unit}`;
}

/** An area in words: in square metres, for those who read feet in square feet. */
export function areaText(squareMetres: number, { unit }: Reading): string {
  return unit === 'ft' ? `${fixed(squareMetres / FOOT ** 2, 1)} ft²` : `${fixed(squareMetres, 2)} m²`;
}

/** @param radians to a tenth of a degree */
export function angleText(radians: number): string {
  return `${fixed((radians * 180) / Math.PI, 1)}°`;
}

/** Feet, inches and a fraction in its lowest terms; rounded to the fraction first, so that 11.99 inches become a foot. */
function feetText(metres: number, fraction: number): string {
  const parts = Math.round((Math.abs(metres) / FOOT) * 12 * fraction);
  const inches = Math.floor(parts / fraction);
  const [feet, rest] = [Math.floor(inches / 12), inches % 12];
  const over = parts % fraction;
  const divisor = greatestCommonDivisor(over, fraction);
  const part = over === 0 ? '' : ` ${over / divisor}/${fraction / divisor}`;
  const sign = metres < 0 && parts > 0 ? '−' : '';
  if (feet === 0 && inches === 0 && part) return `${sign}${part.trim()}″`;
  return `${sign}${feet > 0 ? `${feet}′ ` : ''}${rest}${part}″`;
}

function greatestCommonDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestCommonDivisor(b, a % b);
}

/** Without a minus before a zero. */
function fixed(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  return value < 0 && Number(text) !== 0 ? `−${text}` : text;
}
