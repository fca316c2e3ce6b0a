import js from '@eslint/js';
import globals from 'globals';
import { createNodeResolver, importX } from 'eslint-plugin-import-x';
import reactHooks from 'eslint-plugin-react-hooks';
import prettier from 'eslint-config-prettier';
import tseslint from 'typescript-eslint';

/** Names a folder may not import: the arrows of docs/architecture.md. */
const forbid = (groups, message) => [
  'error',
  { patterns: groups.map((group) => ({ group: [group].flat(), message })) },
];

const CLOCK_AND_CHANCE = [
  {
    object: 'Math',
    property: 'random',
    message: 'The core is a function of its arguments: pass randomness in.',
  },
  { object: 'Date', property: 'now', message: 'The core is a function of its arguments: pass time in.' },
];

/** What lies behind the door of a package; each stage of the core has a door of its own. */
const BEHIND_DOORS = [
  '@lantern/*/*',
  '!@lantern/core/*',
  '!@lantern/files/*',
  '!@lantern/contracts/directory',
  '!@lantern/contracts/machines',
  '!@lantern/contracts/retention',
  '!@lantern/contracts/access',
  '!@lantern/contracts/insight',
  '!@lantern/contracts/discovery',
  '!@lantern/contracts/crossings',
  '!@lantern/contracts/passkeys',
  '!@lantern/contracts/approvals',
  '!@lantern/contracts/sign-on',
];

/** Folders in the order of the arrows: each may import those before it, never those after. See docs/architecture.md. */
const ARROWS = {
  'packages/core/src': [
    ...[
      'shared',
      'directory',
      'text',
      'detection',
      'labels',
      'movement',
      'policy',
      'incidents',
      'insight',
      'discovery',
      'automations',
    ],
  ],
  'apps/server/src': [
    ...[
      'platform',
      'accounts',
      'directory',
      'published',
      'inspection',
      'journal',
      'incidents',
      'response',
      'patterns',
    ],
    ...[
      'labels',
      'policies',
      'movements',
      'doors',
      'crossings',
      'revisions',
      'replay',
      'insight',
      'discovery',
      'lantern',
      'overview',
      'stand-ins',
      'retention',
    ],
    ...['demo', 'app'],
  ],
  'apps/web/src': [
    ...['wording', 'ui', 'data', 'stores', 'shared', 'lantern', 'screens', 'stand-ins', 'shell'],
  ],
};
const SCREENS = [
  'coverage',
  'crossings',
  'directory',
  'discovery',
  'doors',
  'first-steps',
  'incidents',
  'insight',
  'labels',
  'patterns',
  'policies',
  'replay',
  'routing',
  'waiting',
];

const arrowZones = Object.entries(ARROWS).flatMap(([root, folders]) =>
  folders.slice(0, -1).map((folder, index) => ({
    target: `./${root}/${folder}`,
    from: folders.slice(index + 1).map((later) => `./${root}/${later}`),
    message: `Arrows go ${folders.join(' → ')}.`,
  })),
);
const screenZones = SCREENS.map((screen) => ({
  target: `./apps/web/src/screens/${screen}`,
  from: './apps/web/src/screens',
  except: [`./${screen}`],
  message: 'Screens do not import screens: what several use lives in shared.',
}));

export default tseslint.config(
  { ignores: ['**/dist/**', '**/.data/**', '**/.build/**', '**/node_modules/**', 'test-results/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  prettier,
  {
    languageOptions: { globals: { ...globals.node, ...globals.jest } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-extraneous-class': 'off',
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
      'max-lines-per-function': ['error', { max: 50, skipBlankLines: true, skipComments: true }],
      'max-params': ['error', 4],
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportAllDeclaration', message: 'One door per package: name what it exports.' },
      ],
    },
  },
  {
    // Markup is long without being complicated; see docs/decisions/0003-sizes.md.
    files: ['**/*.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 120, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: [
      '**/*.test.{ts,tsx}',
      '**/*.test.mjs',
      'e2e/**',
      'apps/server/test/**',
      'apps/reader/test/**',
      '**/migrations/**',
      '**/detection/library/**',
      'demo/**',
      'bench/**',
    ],
    rules: { 'max-lines-per-function': 'off', 'max-lines': 'off', 'max-params': 'off' },
  },
  {
    // The door of the contracts is a list of names.
    files: ['packages/contracts/src/index.ts'],
    rules: { 'max-lines': 'off' },
  },
  {
    // Constructors list what a service is given; Nest counts on it.
    files: ['apps/server/src/**/*.ts'],
    rules: { 'max-params': 'off', '@typescript-eslint/consistent-type-imports': 'off' },
  },
  {
    files: ['apps/*/src/**/*.{ts,tsx}', 'packages/*/src/**/*.ts'],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/extensions': ['.ts', '.tsx'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
      'import-x/resolver-next': [
        createNodeResolver({
          extensions: ['.ts', '.tsx', '.mjs', '.js', '.json'],
          extensionAlias: { '.js': ['.ts', '.tsx', '.js'] },
          conditionNames: ['lantern-source', 'import', 'default'],
        }),
      ],
    },
    rules: {
      'import-x/no-restricted-paths': ['error', { zones: [...arrowZones, ...screenZones] }],
      'import-x/no-cycle': 'error',
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': forbid(
        ['node:*', '@lantern/*', '@nestjs/*', 'react'],
        'The core stands on its own: nothing comes from outside.',
      ),
      'no-restricted-properties': ['error', ...CLOCK_AND_CHANCE],
      'no-restricted-globals': [
        'error',
        'process',
        'Buffer',
        'window',
        'document',
        'setTimeout',
        'setInterval',
        'fetch',
        'console',
        'crypto',
      ],
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportAllDeclaration', message: 'One door per package: name what it exports.' },
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'The core has no clock: pass time in.',
        },
      ],
    },
  },
  {
    files: ['packages/files/src/**/*.ts', 'packages/contracts/src/**/*.ts'],
    rules: {
      'no-restricted-imports': forbid(
        ['@lantern/server', '@lantern/web', '@lantern/demo', '@nestjs/*', 'react', BEHIND_DOORS],
        'Files and contracts import only the core.',
      ),
    },
  },
  {
    files: ['apps/server/src/**/*.ts'],
    rules: {
      'no-restricted-imports': forbid(
        ['@lantern/web', 'react', BEHIND_DOORS],
        'The server never imports the web, and nobody looks behind the door of a package.',
      ),
    },
  },
  {
    files: ['apps/web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    languageOptions: { globals: { ...globals.browser } },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'no-restricted-imports': forbid(
        ['@lantern/server', '@lantern/files', '@lantern/demo', '@lantern/testkit', BEHIND_DOORS, 'node:*'],
        'The web imports core and contracts only.',
      ),
    },
  },
  {
    // Builders of the testkit serve tests and never ship.
    files: ['apps/web/src/**/*.test.{ts,tsx}'],
    rules: {
      'no-restricted-imports': forbid(
        ['@lantern/server', '@lantern/files', '@lantern/demo', BEHIND_DOORS, 'node:*'],
        'Tests of the web import core, contracts and the testkit only.',
      ),
    },
  },
  {
    files: ['apps/web/src/ui/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-imports': forbid(
        ['**/data/**', '**/screens/**', '**/stores/**', '@lantern/*'],
        'The kit knows no data and no domain.',
      ),
    },
  },
);
