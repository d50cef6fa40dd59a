import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ALL_ELEMENTS, compactSet, setOf, withoutElements, type Where } from '../elements/element-set';
import { NO_CAMERA } from './camera';
import { anyChange, anyView, MODELS } from './test-views';
import {
  describeView,
  differences,
  INITIAL_VIEW,
  mergeView,
  pick,
  readChange,
  readView,
  UNDONE_PARTS,
  VIEW_PARTS,
  type ViewState,
} from './view-state';
import { viewChangeSchema, viewStateSchema } from './view-state-schema';
import { SHOW_ALL } from './visibility';

const stored = (value: unknown) => JSON.parse(JSON.stringify(value)) as unknown;
/** Rules are stored as they are, but read in their shortest form. */
const settledView = (view: ViewState): ViewState => ({
  ...view,
  visibility: { ...view.visibility, shown: compactSet(view.visibility.shown) },
  fades: view.fades.map(({ of, clear }) => ({ of: compactSet(of), clear })),
  colouring: view.colouring.map(({ of, colour }) => ({ of: compactSet(of), colour })),
  cuts: { ...view.cuts, whole: compactSet(view.cuts.whole) },
});

describe('every view', () => {
  it('survives storing, whatever is in it', () => {
    fc.assert(
      fc.property(anyView, (view) => {
        expect(readView(stored(view))).toEqual(settledView(view));
      }),
    );
  });

  it('passes its schema, and so does every change', () => {
    fc.assert(
      fc.property(anyView, anyChange, (view, change) => {
        expect(viewStateSchema.validate(view, { convert: false }).error).toBeUndefined();
        expect(viewChangeSchema.validate(change, { convert: false }).error).toBeUndefined();
      }),
    );
  });

  it('is the same however changes are grouped on the way', () => {
    fc.assert(
      fc.property(anyView, anyChange, anyChange, (view, first, second) => {
        const oneByOne = mergeView(mergeView(view, first), second);
        expect(mergeView(view, { ...first, ...second })).toEqual(oneByOne);
        expect(mergeView(view, differences(view, oneByOne))).toEqual(oneByOne);
      }),
    );
  });

  it('is brought back by the parts that undo remembers, apart from camera and selection', () => {
    fc.assert(
      fc.property(anyView, anyChange, (view, change) => {
        const back = mergeView(mergeView(view, change), pick(view, UNDONE_PARTS));
        expect(pick(back, UNDONE_PARTS)).toEqual(pick(view, UNDONE_PARTS));
      }),
    );
    expect([VIEW_PARTS.camera.undone, VIEW_PARTS.selection.undone]).toEqual([false, false]);
  });
});

describe('what was stored otherwise', () => {
  const camera = { position: [1, 2, 3], target: [4, 5, 6], fov: 40 };
  const [model] = MODELS as [string];
  const ref = (guid: string) => ({ model, guid });
  const these = (...guids: string[]): Where => [
    { is: 'model', value: model },
    { is: 'element', guids },
  ];

  it('lists of hidden elements, of those shown alone, of those selected, and options within the visibility', () => {
    const options = { 'a-place': 'an-option' };
    expect(
      readView({
        camera,
        visibility: { hiddenModels: [model], hidden: [ref('a'), ref('b')], only: null, options },
        selection: [ref('c')],
      }),
    ).toEqual({
      ...INITIAL_VIEW,
      camera,
      visibility: { hiddenModels: [model], shown: withoutElements(ALL_ELEMENTS, [these('a', 'b')]) },
      options,
      selection: [these('c')],
    });
    expect(
      readView({ camera, visibility: { hiddenModels: [], hidden: [ref('b')], only: [ref('a'), ref('b')] } }).visibility
        .shown,
    ).toEqual([{ also: these('a', 'b') }, { except: these('b') }]);
  });

  it('is read as far as it makes sense, and never throws', () => {
    fc.assert(
      fc.property(fc.anything(), (anything) => {
        expect(() => readView(anything)).not.toThrow();
      }),
    );
    for (const name of Object.keys(VIEW_PARTS) as (keyof ViewState)[])
      fc.assert(
        fc.property(fc.anything(), (anything) => {
          const view = readView({ [name]: anything });
          expect(viewStateSchema.validate({ ...view, camera }).error?.message ?? '').not.toMatch(/must be of type/);
        }),
      );
    expect(readView(null)).toEqual(INITIAL_VIEW);
    expect(readView({ camera: { position: [0, 0, null], target: [0, 0, 0], fov: 50 } }).camera).toEqual(NO_CAMERA);
  });

  it('a clause with a condition that nobody knows is left out whole, so that it never means more', () => {
    const shown = [
      { also: [] },
      {
        except: [
          { is: 'model', value: model },
          { is: 'phase', value: 'New' },
        ],
      },
    ];
    expect(readView({ visibility: { shown, hiddenModels: [] } }).visibility).toEqual(SHOW_ALL);
  });

  it('a change holds the parts that it names and no others', () => {
    expect(readChange({ type: 'view-settled', camera })).toEqual({ camera });
    expect(readChange({ fades: [], mist: 3 })).toEqual({ fades: [] });
  });
});

describe('the schemas', () => {
  const good = { ...INITIAL_VIEW, camera: { position: [0, 0, 1], target: [0, 1, 1], fov: 50 } };
  const refused = (change: object) =>
    viewStateSchema.validate({ ...good, ...change }, { convert: false }).error?.message;

  it('take a whole view and refuse what is out of bounds', () => {
    expect(refused({})).toBeUndefined();
    expect(refused({ camera: { ...good.camera, fov: 500 } })).toContain('fov');
    expect(refused({ camera: { ...good.camera, position: [0, 0] } })).toContain('position');
    expect(refused({ camera: { ...good.camera, position: [0, 0, Infinity] } })).toBeDefined();
    expect(refused({ selection: [[{ is: 'model', value: 'x' }]] })).toContain('selection');
    expect(refused({ fades: [{ of: [], clear: 2 }] })).toContain('clear');
    expect(refused({ spread: { by: 'magic', amount: 1, from: [] } })).toContain('by');
    expect(
      refused({ visibility: { shown: [{ also: [{ is: 'fact', set: 's', name: 'n' }] }], hiddenModels: [] } }),
    ).toBeDefined();
    expect(viewChangeSchema.validate({}).error).toBeDefined();
  });

  it('set no limit on how many elements are named', () => {
    const guids = Array.from({ length: 60_000 }, (_, i) => `2O2Fr$t4X7Zf8NOew3F${i}`);
    const shown = setOf([[{ is: 'element', guids }]]);
    expect(refused({ visibility: { shown, hiddenModels: [] } })).toBeUndefined();
  });
});

describe('in words', () => {
  const names = {
    model: (id: string) => (id === MODELS[0] ? 'Architecture' : undefined),
    element: () => 'Heat pump',
    option: () => 'Vaulted',
  };

  it('a view says what it shows otherwise than the whole', () => {
    const ducts: Where = [
      { is: 'model', value: MODELS[0]! },
      { is: 'storey', value: 'Roof' },
      { is: 'category', value: 'Duct' },
    ];
    expect(describeView(INITIAL_VIEW, names)).toBe('');
    expect(
      describeView(
        {
          ...INITIAL_VIEW,
          visibility: { shown: withoutElements(ALL_ELEMENTS, [ducts]), hiddenModels: [MODELS[1]!] },
          options: { roof: 'v' },
          fades: [{ of: setOf([[{ is: 'category', value: 'Wall' }]]), clear: 0.75 }],
          spread: { by: 'storey', amount: 0.5, from: [] },
          selection: [
            [
              { is: 'model', value: MODELS[0]! },
              { is: 'element', guids: ['g'] },
            ],
          ],
        },
        names,
      ),
    ).toBe(
      'Shown: everything except Roof of Duct in Architecture; Off: a model that is gone. Options: Vaulted. ' +
        'Faded by 75 %: Wall. Spread storey by storey, 50 %. Selected: Heat pump in Architecture.',
    );
  });
});
