import { asRecord } from '../elements/read-element-set';
import { isNumber } from './read-numbers';
import type { ViewPart } from './view-part';

export const LOOKS = ['card', 'ink', 'file', 'clear'] as const;
export type Look = (typeof LOOKS)[number];

export const BACKGROUNDS = ['paper', 'sky', 'dark', 'plain'] as const;
export type Background = (typeof BACKGROUNDS)[number];

/** How a model is drawn. */
export interface Style {
  /** Calmed like a card model; lines alone; materials as they are in the file; all of it clear. */
  look: Look;
  /** Weight of the ink lines: 1 as usual, 0 none. */
  ink: number;
  background: Background;
  /** Of a plain background, such as #d8d2c4. */
  colour: string;
}

export const HEAVIEST_INK = 2.5;
export const COLOUR = /^#[0-9a-f]{6}$/i;

export const LOOK_WORDS: Record<Look, string> = {
  card: 'Card',
  ink: 'Ink only',
  file: 'As in the file',
  clear: 'Clear',
};

export const BACKGROUND_WORDS: Record<Background, string> = {
  paper: 'Paper',
  sky: 'Sky',
  dark: 'Dark',
  plain: 'Plain colour',
};

const FIRST_STYLE: Style = { look: 'card', ink: 1, background: 'paper', colour: '#d8d2c4' };

export const style: ViewPart<Style> = {
  initial: FIRST_STYLE,
  undone: true,
  read(stored) {
    const { look, ink, background, colour } = asRecord(stored);
    return {
      look: LOOKS.find((one) => one === look) ?? FIRST_STYLE.look,
      ink: isNumber(ink) ? Math.min(HEAVIEST_INK, Math.max(0, ink)) : FIRST_STYLE.ink,
      background: BACKGROUNDS.find((one) => one === background) ?? FIRST_STYLE.background,
      colour: typeof colour === 'string' && COLOUR.test(colour) ? colour : FIRST_STYLE.colour,
    };
  },
  describe: ({ look }) => (look === 'card' ? '' : `Drawn ${LOOK_SENTENCES[look]}`),
};

const LOOK_SENTENCES: Record<Exclude<Look, 'card'>, string> = {
  ink: 'in ink only',
  file: 'with the materials of the file',
  clear: 'clear',
};
