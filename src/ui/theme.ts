import { createSystem, defineConfig } from '@chakra-ui/react';
import { defaultBaseConfig } from '@chakra-ui/react/preset-base';
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  checkboxSlotRecipe,
  checkmarkRecipe,
  codeRecipe,
  cssVarsPrefix,
  cssVarsRoot,
  dialogSlotRecipe,
  globalCss,
  headingRecipe,
  iconRecipe,
  inputRecipe,
  kbdRecipe,
  keyframes,
  layerStyles,
  linkRecipe,
  menuSlotRecipe,
  nativeSelectSlotRecipe,
  popoverSlotRecipe,
  progressSlotRecipe,
  radioGroupSlotRecipe,
  radiomarkRecipe,
  semanticTokens,
  sliderSlotRecipe,
  switchSlotRecipe,
  tableSlotRecipe,
  textareaRecipe,
  textStyles,
  tokens,
} from '@chakra-ui/react/theme';

/** Felt and ink: the tokens of interface and model alike, each with a dark counterpart for dim meeting rooms. */
const pair = (light: string, dark: string) => ({ value: { base: light, _dark: dark } });
const is = (token: string) => ({ value: `{colors.${token}}` });

/** Of the library's theme only what the pages use: a phone loads all that stands here. */
const library = defineConfig({
  preflight: true,
  cssVarsPrefix,
  cssVarsRoot,
  globalCss,
  theme: {
    breakpoints,
    keyframes,
    tokens,
    semanticTokens,
    textStyles,
    layerStyles,
    animationStyles,
    recipes: {
      button: buttonRecipe,
      checkmark: checkmarkRecipe,
      code: codeRecipe,
      heading: headingRecipe,
      icon: iconRecipe,
      input: inputRecipe,
      kbd: kbdRecipe,
      link: linkRecipe,
      radiomark: radiomarkRecipe,
      textarea: textareaRecipe,
    },
    slotRecipes: {
      checkbox: checkboxSlotRecipe,
      dialog: dialogSlotRecipe,
      menu: menuSlotRecipe,
      nativeSelect: nativeSelectSlotRecipe,
      popover: popoverSlotRecipe,
      progress: progressSlotRecipe,
      radioGroup: radioGroupSlotRecipe,
      slider: sliderSlotRecipe,
      switch: switchSlotRecipe,
      table: tableSlotRecipe,
    },
  },
});

export const system = createSystem(
  defaultBaseConfig,
  library,
  defineConfig({
    globalCss: {
      'html, body': {
        bg: 'wool',
        color: 'ink',
        fontFamily: 'body',
        height: '100%',
        fontVariantNumeric: 'tabular-nums',
      },
      '*': { scrollbarWidth: 'thin', scrollbarColor: '{colors.seam} transparent' },
      '*:focus-visible': { outline: '2px solid', outlineColor: 'indigo', outlineOffset: '2px' },
    },
    theme: {
      tokens: {
        fonts: {
          body: { value: "'Atkinson Hyperlegible', system-ui, sans-serif" },
          heading: { value: "'Atkinson Hyperlegible', system-ui, sans-serif" },
        },
        radii: { card: { value: '18px' }, pill: { value: '999px' } },
        shadows: { card: { value: '0 4px 18px rgba(60, 48, 30, 0.10)' } },
      },
      semanticTokens: {
        colors: {
          wool: pair('#F4EFE6', '#1D1B18'),
          /** What the model stands on: the stage's own background. */
          paper: pair('#F1EBE0', '#1B1916'),
          felt: pair('#EAE2D3', '#2E2A25'),
          seam: pair('#D6CAB5', '#4A443B'),
          card: pair('#FCFAF5', '#26231F'),
          ink: pair('#26231F', '#F1EBE0'),
          softInk: pair('#5F584E', '#B9AF9F'),
          madder: pair('#9C3B2E', '#D9796A'),
          indigo: pair('#34497F', '#93A6DB'),
          ochre: pair('#7A5200', '#DDB155'),
          /** The sun itself, where nothing is read on it. */
          sun: pair('#DFA33A', '#E9BC5C'),
          onStrong: pair('#FCFAF5', '#1D1B18'),
          // What Chakra's own parts take where no colour is given: menus, tables, a button under the pointer.
          bg: {
            DEFAULT: is('wool'),
            subtle: is('felt'),
            muted: is('felt'),
            emphasized: is('seam'),
            inverted: is('ink'),
            panel: is('card'),
          },
          fg: { DEFAULT: is('ink'), muted: is('softInk'), subtle: is('softInk'), inverted: is('card') },
          border: { DEFAULT: is('seam'), subtle: is('felt'), muted: is('seam'), emphasized: is('softInk') },
          gray: {
            contrast: is('onStrong'),
            fg: is('ink'),
            subtle: is('felt'),
            muted: is('seam'),
            emphasized: is('seam'),
            solid: is('ink'),
            focusRing: is('indigo'),
          },
        },
      },
    },
  }),
);
