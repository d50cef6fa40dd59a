import { NO_CUTS, planeAt, type CutBox } from '@/core/cut/cuts';
import type { Measure } from '@/core/measure/measures';
import type { CameraPose } from '@/core/view/camera';
import type { ViewChange } from '@/core/view/view-state';

interface DemoView {
  name: string;
  view: ViewChange & { camera: CameraPose };
  group?: string;
  question?: string;
  minutes?: number;
  /** The models that are in its picture. */
  of: readonly ('architecture' | 'services')[];
}

/** Around the plant room in the north-west: its south and east walls and its ceiling are away. */
const PLANT_ROOM: CutBox = {
  middle: [5.65, 31.35, 1.55],
  size: [12.1, 10.1, 3.5],
  turn: 0,
  isOn: true,
  isFramed: true,
};

const PLANT_MEASURES: Measure[] = [
  {
    id: 'measure 1',
    name: 'Way to the tanks',
    kind: 'distance',
    points: [
      [5.7, 30.6, 1.9],
      [5.7, 33.95, 1.9],
    ],
    normals: [],
    area: null,
  },
  {
    id: 'measure 2',
    name: 'Top of the heat pump',
    kind: 'height',
    points: [
      [1.7, 33.5, 1.8],
      [1.7, 33.5, 0],
    ],
    normals: [],
    area: null,
  },
  {
    id: 'measure 3',
    name: 'Tank',
    kind: 'round',
    points: [
      [7, 34.4, 1.9],
      [7.45, 34.4, 1.9],
    ],
    normals: [[0, 0, 1]],
    area: null,
  },
];

/** The running order of the demo. */
export const DEMO_VIEWS: readonly DemoView[] = [
  {
    name: 'Arriving',
    group: 'Walk',
    minutes: 5,
    view: { camera: { position: [15, -22, 3.2], target: [24, 8, 3], fov: 50 } },
    of: ['architecture'],
  },
  {
    name: 'From above',
    group: 'Walk',
    view: { camera: { position: [66, -34, 40], target: [24, 16, 1], fov: 40 } },
    of: ['architecture'],
  },
  {
    name: 'The court',
    group: 'Walk',
    question: 'Does the hall feel open from the court?',
    minutes: 10,
    view: { camera: { position: [13.2, 15.2, 1.7], target: [30, 20.5, 3.4], fov: 62 } },
    of: ['architecture'],
  },
  {
    name: 'Hall roof',
    group: 'Hall',
    question: 'Folded or vaulted?',
    minutes: 15,
    view: { camera: { position: [6, 6, 19], target: [38, 19, 4], fov: 45 } },
    of: ['architecture'],
  },
  {
    name: 'Reading hall',
    group: 'Hall',
    view: { camera: { position: [31.2, 11, 1.65], target: [44, 22, 1.6], fov: 65 } },
    of: ['architecture'],
  },
  {
    name: 'Hall, December afternoon',
    group: 'Hall',
    question: 'Is there enough sun to read by in winter?',
    minutes: 10,
    view: {
      camera: { position: [37.4, 10.9, 1.6], target: [31.8, 20.6, 2.1], fov: 68 },
      light: { at: { date: '2026-12-21', minutes: 14 * 60 }, shadows: true, exposure: 0 },
    },
    of: ['architecture'],
  },
  {
    name: "Children's corner",
    group: 'Upstairs',
    question: 'Can a child look out of the window?',
    minutes: 8,
    view: { camera: { position: [8.2, 21.8, 4.9], target: [12.4, 17.2, 4.75], fov: 65 } },
    of: ['architecture'],
  },
  {
    name: 'Ground floor',
    group: 'Drawings',
    view: {
      camera: { position: [24, -18, 52], target: [24, 12, 0], fov: 46 },
      cuts: { ...NO_CUTS, planes: [planeAt('plane 1', [24, 18, 1.2], [0, 0, 1])] },
    },
    of: ['architecture', 'services'],
  },
  {
    name: 'Plant room',
    group: 'Drawings',
    view: {
      camera: { position: [16.6, 15.4, 12], target: [5.6, 30.2, 0], fov: 42 },
      cuts: { ...NO_CUTS, box: PLANT_ROOM },
      measures: PLANT_MEASURES,
    },
    of: ['architecture', 'services'],
  },
];
