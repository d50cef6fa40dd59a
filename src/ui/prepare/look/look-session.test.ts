import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { encodeColumn, type ElementIndex } from '@/core/elements/element-index';
import { withoutElements, whereElements, ALL_ELEMENTS, type Where } from '@/core/elements/element-set';
import { elementMask } from '@/core/elements/match-elements';
import type { Finding } from '@/core/examination/finding';
import { emptyBox, type Box3 } from '@/core/math/box3';
import type { SurfaceRule } from '@/core/surfaces/surface-rule';
import type { RevisionDetail } from '@/core/project/models';
import type { Paint } from '@/stage/model/element-paint';
import type { Stage } from '@/stage/stage';
import { LookSession } from './look-session';

const index = {
  count: 4,
  guid: ['a', 'b', 'c', 'd'],
  name: ['A', 'B', 'C', 'D'],
  category: encodeColumn(['Wall', 'Door', 'Wall', 'Tree']),
  material: encodeColumn(['', '', '', '']),
  system: encodeColumn(['', '', '', '']),
  discipline: encodeColumn(['', '', '', '']),
  extent: [0, 0, 0, 10, 10, 10],
  storey: [0, 0, 1, -1],
  storeys: [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'First', elevation: 3 },
  ],
} as Partial<ElementIndex> as ElementIndex;

const finding = (kind: Finding['kind'], ...elements: string[]): Finding => ({
  kind,
  count: elements.length,
  elements,
  detail: '',
});
const FINDINGS = [finding('far-away', 'd'), finding('inside-out', 'b')];

function revision(part: object = {}): RevisionDetail {
  return {
    id: 'r1',
    files: '/published/one/',
    settings: {},
    report: { extent: [0, 0, 0, 1, 1, 1], offset: [0, 0, 0], findings: FINDINGS },
    ...part,
  } as unknown as RevisionDetail;
}

const WALLS: Where = [{ is: 'category', value: 'Wall' }];
const TREES: Where = [{ is: 'category', value: 'Tree' }];
const FIRST: Where = [{ is: 'storey', value: 'First' }];

/** Elements stand in a row, a metre each; the tree has no shape. */
const elementBox = (row: number): Box3 => (row === 3 ? emptyBox() : [row, 0, 0, row + 0.9, 1, 1]);

function fakeStage() {
  return {
    loadedModels: [
      {
        index,
        setPaint: vi.fn(),
        elementBox,
        rowOf: new Map(index.guid.map((guid, row) => [guid, row])),
        extent: index.extent,
      },
    ],
    showBox: vi.fn(),
    setModels: vi.fn().mockResolvedValue(undefined),
    show: vi.fn<Stage['show']>(),
    extentWithout: vi.fn(() => [0, 0, 0, 1, 1, 1]),
    showPerson: vi.fn(),
    showWhole: vi.fn(),
    flyToElements: vi.fn(),
  };
}

const FACT_VALUES = [
  { value: 'EI 30', elements: [1, 2] },
  { value: 'none', elements: [0] },
];

let stage: ReturnType<typeof fakeStage>;
let session: LookSession;
const sent: { method: string; path: string; body: unknown }[] = [];
beforeEach(async () => {
  stage = fakeStage();
  session = new LookSession('m');
  session.stage = stage as unknown as Stage;
  sent.length = 0;
  vi.stubGlobal('fetch', (path: string, init: { method: string; body?: string }) => {
    sent.push({ method: init.method, path, body: init.body === undefined ? undefined : JSON.parse(init.body) });
    return Promise.resolve(
      Response.json(path.includes('facts?') ? FACT_VALUES : path.endsWith('triangles.json') ? [1, 2, 3, 4] : {}),
    );
  });
  await session.load(revision());
  sent.length = 0;
});
afterEach(() => vi.unstubAllGlobals());

/** The guids that the stage hides, and those that it marks, after the last change. */
function shown() {
  const [{ visibility, selection }] = stage.show.mock.lastCall!;
  const rows = new Map(index.guid.map((guid, row) => [guid, row]));
  const mask = elementMask(visibility!.shown, { model: 'm', index, rowOf: rows });
  return {
    hidden: index.guid.filter((_, row) => !mask[row]),
    marked: selection!.flatMap((where) => where.flatMap((one) => (one.is === 'element' ? one.guids : []))),
  };
}

describe('looking at a revision', () => {
  it('begins with everything revealed, strays out of the way', () => {
    expect(session.store.getState().revealed).toBe(4);
    expect(shown()).toEqual({ hidden: [], marked: [] });
    expect(stage.showWhole).toHaveBeenCalledWith([{ model: 'm', guid: 'd' }]);
  });

  it('loads the same files once, and new ones again', async () => {
    await session.load(revision());
    expect(stage.setModels).toHaveBeenCalledTimes(1);
    await session.load(revision({ files: '/published/two/' }));
    expect(stage.setModels).toHaveBeenCalledTimes(2);
  });

  it('takes ticks away and gives them back, by branch and by element', () => {
    session.toggle(WALLS, [0, 2]);
    session.setElements([1], false);
    expect(shown().hidden).toEqual(['a', 'b', 'c']);
    expect(session.store.getState().revealed).toBe(1);
    session.setElements([0], true);
    expect(shown().hidden, 'one of a branch that is withheld').toEqual(['b', 'c']);
    session.toggle(WALLS, [0, 2]); // the rest of it
    session.setElements([1], true);
    session.toggle(FIRST, [2]);
    expect(shown().hidden).toEqual(['c']);
  });

  it('takes the tick of a part of a branch away and gives it back', () => {
    session.toggle([...WALLS, ...FIRST], [2]);
    expect(shown().hidden).toEqual(['c']);
    expect(session.store.getState().rule!.of).toEqual(withoutElements(ALL_ELEMENTS, [[...WALLS, ...FIRST]]));
    session.toggle([...FIRST, ...WALLS], [2]);
    expect(shown().hidden).toEqual([]);
    session.toggle(WALLS, [0, 2]);
    session.toggle([...WALLS, ...FIRST], [2]);
    expect(shown().hidden).toEqual(['a']);
  });

  it('gives a part back that others keep back in part, and takes it away when all of it is there', () => {
    session.toggle(FIRST, [2]);
    session.toggle(WALLS, [0, 2]);
    expect(shown().hidden).toEqual([]);
    session.toggle(WALLS, [0, 2]);
    expect(shown().hidden).toEqual(['a', 'c']);
    expect(session.store.getState().rows).toEqual(['rule', null, 'rule', null]);
    session.toggle(WALLS, [0, 2]);
    expect(shown().hidden, 'as it was before the walls were spoken of').toEqual(['c']);
    session.toggle(WALLS, [0, 2]);
    expect(shown().hidden).toEqual([]);
  });

  it('keeps to the rule of the last revision, in which new categories wait', async () => {
    const rule = { of: withoutElements(ALL_ELEMENTS, [FIRST]), knownCategories: ['Wall', 'Door'] };
    await session.load(revision({ files: '/published/two/', settings: { reveal: rule } }));
    expect(shown().hidden).toEqual(['c', 'd']);
    session.toggle(TREES, [3]);
    expect(shown().hidden).toEqual(['c']);
  });

  it('goes through what was found one by one, seen through all else, and back to all', () => {
    const both = finding('coincident', 'a', 'c');
    session.store.setState({ findings: [both] });
    session.showFinding(both);
    const marks = [shown().marked];
    for (const by of [1, 1, 1, -1] as const) {
      session.step(by);
      marks.push(shown().marked);
    }
    expect(marks).toEqual([['a', 'c'], ['a'], ['c'], ['a'], ['c']]);
    expect(stage.flyToElements).toHaveBeenLastCalledWith(
      whereElements([{ model: 'm', guid: 'c' }]),
      expect.any(Number),
    );
    expect(stage.show.mock.lastCall![1]).toBe(true);
    session.showFinding(both);
    session.step(-1);
    expect(shown().marked).toEqual(['c']);
    session.showRows([1, 3]);
    expect(shown().marked).toEqual(['b', 'd']);
    expect(session.store.getState().marked!.finding).toBeNull();
  });

  it('hides at once what is to be left out, and marks what a finding is about', () => {
    session.setMend('far-away', true);
    session.setMend('inside-out', true);
    expect(shown().hidden).toEqual(['d']); // turning hides nothing
    session.showFinding(FINDINGS[1]!);
    expect(shown().marked).toEqual(['b']);
    expect(stage.flyToElements).toHaveBeenCalledWith(whereElements([{ model: 'm', guid: 'b' }]), expect.any(Number));
    session.setMend('far-away', false);
    expect(shown().hidden).toEqual([]);
  });

  it('shows what mending will do before it is done', async () => {
    const findings = [
      finding('inside-out', 'b'),
      { ...finding('coincident', 'a', 'c'), lifts: [1, 3] },
      finding('unseen', 'd'),
    ];
    await session.load(
      revision({ files: '/published/two/', report: { extent: [0, 0, 0, 1, 1, 1], offset: [0, 0, 0], findings } }),
    );
    const paint = () => {
      const { solid, backs, lifts } = stage.loadedModels[0]!.setPaint.mock.lastCall![0] as Paint;
      return { solid: [...solid!], backs: [...backs!], lifts: [...lifts!] };
    };
    expect(paint()).toEqual({ solid: [], backs: [], lifts: [] });
    session.showFinding(findings[0]!);
    expect(paint().backs, 'what is turned shows where it is seen from behind').toEqual([1]);
    session.setMend('inside-out', true);
    expect(paint().backs).toEqual([]);
    session.setMend('coincident', true);
    session.setMend('unseen', true);
    const lifted = [
      [0, 1],
      [2, 3],
    ];
    expect(paint()).toEqual({ solid: [3], backs: [], lifts: lifted });
    session.showFinding(findings[2]!);
    session.setMend('inside-out', false);
    expect(shown().marked, 'so that one sees what the switch is about').toEqual(['b']);
    expect(paint()).toEqual({ solid: [3], backs: [1], lifts: lifted });
  });

  it('publishes what was decided', async () => {
    session.toggle(TREES, [3]);
    session.setMend('inside-out', true);
    expect(await session.publish('r1', { metresPerUnit: 0.01, up: 'Z' })).toBe(true);
    expect(sent).toEqual([
      {
        method: 'POST',
        path: '/api/revisions/r1/decision',
        body: {
          reveal: {
            of: [{ also: [] }, { except: TREES }],
            knownCategories: ['Wall', 'Door', 'Tree'],
          },
          frame: { metresPerUnit: 0.01, up: 'Z' },
          mend: ['inside-out'],
          surfaces: [],
          publish: true,
        },
      },
    ]);
    await session.putAside('r1');
    expect(sent[1]).toMatchObject({ method: 'DELETE', path: '/api/revisions/r1/decision' });
  });

  it('reveals only what touches a box, and draws it', () => {
    session.setBox([0.95, 0, 0, 1.5, 1, 1]);
    expect(shown().hidden).toEqual(['a', 'c']);
    expect(stage.showBox).toHaveBeenLastCalledWith([0.95, 0, 0, 1.5, 1, 1]);
    session.setBox(null);
    expect(shown().hidden).toEqual([]);
    expect(session.store.getState().rule).not.toHaveProperty('box');
  });

  it('shows colours as rules will make them: the last one counts, facts are asked for once', async () => {
    const rule = (part: Partial<SurfaceRule>): SurfaceRule => ({
      of: [{ is: 'category', value: 'Wall' }],
      label: '',
      color: '#ff0000',
      opacity: 1,
      material: null,
      ...part,
    });
    const painted = () => Object.fromEntries((stage.loadedModels[0]!.setPaint.mock.lastCall![0] as Paint).colors!);
    session.addSurfaceRule(rule({}));
    expect(painted()).toEqual({ 0: [1, 0, 0], 2: [1, 0, 0] });
    await session.factValues('Doors', 'Rating');
    await session.factValues('Doors', 'Rating');
    expect(sent.map(({ path }) => path)).toEqual(['/api/revisions/r1/facts?set=Doors&name=Rating']);
    const byFact = rule({ of: [{ is: 'fact', set: 'Doors', name: 'Rating', value: 'EI 30' }], color: '#0000ff' });
    session.addSurfaceRule(byFact);
    expect(painted()).toEqual({ 0: [1, 0, 0], 1: [0, 0, 1], 2: [0, 0, 1] });
    session.addSurfaceRule(rule({ of: [{ is: 'element', guids: ['d'] }], color: null, material: 'Bark' }));
    session.removeSurfaceRule(byFact);
    expect(painted()).toEqual({ 0: [1, 0, 0], 2: [1, 0, 0] });
    await session.publish('r1', undefined);
    expect(sent.at(-1)!.body).toMatchObject({
      surfaces: [{ of: [{ is: 'category', value: 'Wall' }] }, { material: 'Bark' }],
    });
  });

  it('says why the server refused, and is not busy any more', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ title: 'Not waiting.' }, { status: 409 })));
    expect(await session.readAs('r1', { metresPerUnit: 1, up: 'Y' })).toBe(false);
    expect(session.store.getState()).toMatchObject({ trouble: 'Not waiting.', busy: false });
  });
});
