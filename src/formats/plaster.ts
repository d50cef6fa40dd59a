/** sRGB and opacity of surfaces in formats that know no materials. */
export const PLASTER: [number, number, number, number] = [0.851, 0.831, 0.784, 1];
