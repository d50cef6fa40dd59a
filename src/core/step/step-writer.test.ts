import { describe, expect, it } from 'vitest';
import { DERIVED, int, StepWriter, token, typed } from './step-writer';

describe('STEP text', () => {
  it('writes every kind of value as ISO 10303-21 asks', () => {
    const out = new StepWriter();
    const point = out.add('IFCCARTESIANPOINT', [0, -0, 1.5, 1e-7, 402180]);
    out.add('IFCX', point, null, DERIVED, int(3), token('T'), typed('IFCLABEL', 'EI 60'), "Ö's \\ 🪟", [[1], []]);
    const text = out.finish('IFC4', 'a.ifc', 'A', 'B', '2026-01-01T00:00:00');
    expect(text).toContain('#1=IFCCARTESIANPOINT((0.,0.,1.5,0.,402180.));');
    expect(text).toContain(
      "#2=IFCX(#1,$,*,3,.T.,IFCLABEL('EI 60'),'\\X2\\00D6\\X0\\''s \\\\ \\X2\\D83EDE9F\\X0\\',((1.),()));",
    );
    expect(text.startsWith('ISO-10303-21;')).toBe(true);
    expect(text.trimEnd().endsWith('END-ISO-10303-21;')).toBe(true);
    expect(() => out.add('IFCX', NaN)).toThrow(RangeError);
  });
});
