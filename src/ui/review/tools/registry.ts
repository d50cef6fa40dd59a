import { Eye, MessageCircle, Move, PenLine, Ruler, Scissors, Sun } from 'lucide-react';
import type { ReviewRights } from '../review-state';
import type { ToolEntry } from './tool';

/** The tools of the Review, in the order of the column. */
const ENTRIES = [
  {
    name: 'move',
    label: 'Move',
    icon: Move,
    key: 'm',
    help: 'One finger or the left button turns about the point under it, two fingers or the right button move, pinch or wheel zooms. A tap selects, a double tap flies there. Stand here: tap a place and be there at eye level; arrow keys or the left thumb walk.',
    right: null,
    picks: false,
    load: () => import('./move/tool'),
  },
  {
    name: 'cut',
    label: 'Cut',
    icon: Scissors,
    key: 'c',
    help: 'Planes and a box beyond which all is away. Arrows move them, rings turn them; at rest the exact section shows.',
    right: null,
    picks: false,
    load: () => import('./cut/tool'),
  },
  {
    name: 'measure',
    label: 'Measure',
    icon: Ruler,
    key: 'd',
    help: 'Distances, areas, angles, clear widths: tap places, and they are taken for the corner, edge or axis that is near. Shift holds an axis; a finger that rests looks through a loupe; Enter takes the middle of the picture.',
    right: null,
    picks: true,
    load: () => import('./measure/tool'),
  },
  {
    name: 'show',
    label: 'Show',
    icon: Eye,
    key: 'h',
    help: 'Hide, show only, fade or pull apart: what is selected, or a branch of the contents.',
    right: null,
    picks: false,
    load: () => import('./show/tool'),
  },
  {
    name: 'light',
    label: 'Light',
    icon: Sun,
    key: 'l',
    help: 'The sun over the place at any day and hour, its shadows, how many hours of sun a place has, and how the model is drawn.',
    right: null,
    picks: false,
    load: () => import('./light/tool'),
  },
  {
    name: 'mark',
    label: 'Mark',
    icon: PenLine,
    key: 'k',
    help: 'Draws a cloud, an arrow, words or freely over the view, or on the surfaces of the model. A tap takes hold of what was drawn; a pen draws without choosing a tool. Enter puts a mark into the middle, comma and full stop choose one, arrow keys move it.',
    right: 'comment',
    picks: true,
    load: () => import('./mark/tool'),
  },
  {
    name: 'say',
    label: 'Say',
    icon: MessageCircle,
    key: 's',
    help: 'Tap what you mean and write. The place, the view and a picture go with it.',
    right: 'comment',
    picks: true,
    load: () => import('./say/tool'),
  },
] as const satisfies readonly ToolEntry[];

export type ToolName = (typeof ENTRIES)[number]['name'];

/** An entry of the registry, by its own name. */
export type RegisteredTool = ToolEntry & { name: ToolName };

export const TOOLS: readonly RegisteredTool[] = ENTRIES;

/** The tools that somebody with these rights has. */
export function toolsFor(rights: ReviewRights): RegisteredTool[] {
  return TOOLS.filter(({ right }) => right === null || rights[right]);
}

export function toolNamed(name: ToolName): RegisteredTool {
  return TOOLS.find((tool) => tool.name === name)!;
}
