import boundaries from 'eslint-plugin-boundaries';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** The rooms of src/ and whom each may call: imports go only downwards (see ARCHITECTURE.md). */
const rooms = [
  'core',
  'formats',
  'publish',
  'db',
  'server',
  'stand-ins',
  'stage',
  'ui',
  'gateway',
  'demo',
  'app',
  'cli',
];
const mayUse = {
  core: ['core'],
  formats: ['core', 'formats'],
  publish: ['core', 'formats', 'publish'],
  db: ['core', 'db'],
  server: ['core', 'formats', 'publish', 'db', 'server'],
  'stand-ins': ['stand-ins'],
  stage: ['core', 'stage'],
  ui: ['core', 'stage', 'ui'],
  gateway: ['core', 'server', 'db', 'gateway'],
  demo: ['core', 'formats', 'publish', 'server', 'db', 'demo'],
  app: ['core', 'ui', 'stage', 'server', 'app'],
  cli: ['core', 'formats', 'publish', 'db', 'server', 'stand-ins', 'gateway', 'demo', 'stage', 'cli'],
};

export default tseslint.config(
  { ignores: ['node_modules/', '.next/', '.yurta/', 'next-env.d.ts', 'test-results/'] },
  ...tseslint.configs.recommended,
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { boundaries, 'react-hooks': reactHooks },
    settings: {
      'boundaries/elements': rooms.map((room) => ({ type: room, pattern: `src/${room}/**`, mode: 'full' })),
      'import/resolver': { typescript: { alwaysTryTypes: true } },
    },
    rules: {
      'boundaries/element-types': [
        'error',
        { default: 'disallow', rules: rooms.map((room) => ({ from: room, allow: mayUse[room] })) },
      ],
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      'no-console': 'error',
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['src/core/**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['node:*', 'react', 'react-dom', 'three', 'next', 'next/*'],
              message: 'core is pure: no Node, no DOM, no React, no three.',
            },
          ],
        },
      ],
      'no-restricted-globals': ['error', 'process', 'Buffer', 'window', 'document', 'navigator'],
    },
  },
  {
    files: ['src/{ui,stage,formats,publish}/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['/joi', '**/*-schema'],
              message: 'What enters is checked by the server; pages and converter stay light.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['src/ui/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...['Literal[value=/--chakra-\\S*[A-Z]/]', 'TemplateElement[value.raw=/--chakra-\\S*[A-Z]/]'].map(
          (selector) => ({
            selector,
            message: 'The theme writes its custom properties in kebab-case; in camelCase there is none.',
          }),
        ),
      ],
    },
  },
  // A test may use the demo building and the next room's output as its input.
  { files: ['src/**/*.test.ts'], rules: { 'boundaries/element-types': 'off' } },
  { files: ['src/cli/**', 'src/gateway/**'], rules: { 'no-console': 'off' } },
);
