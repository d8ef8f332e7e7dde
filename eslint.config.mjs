import prettier from 'eslint-config-prettier';
import importX from 'eslint-plugin-import-x';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Who may import whom: dependencies point one way. A folder may import only what is named for it. */
const ALLOWED = {
  'packages/core': [],
  'packages/formats': ['core'],
  'packages/contracts': ['core'],
  'packages/raster-io': ['core', 'formats'],
  'packages/scanner': ['core'],
  'packages/read-back': [],
  'apps/server': ['core', 'formats', 'contracts', 'raster-io', 'read-back', 'scanner'],
  'apps/web': ['core', 'formats', 'contracts'],
  'apps/cli': ['core', 'formats', 'raster-io'],
};
const PACKAGES = [
  'core',
  'formats',
  'contracts',
  'raster-io',
  'read-back',
  'scanner',
  'server',
  'web',
  'cli',
  'demo',
  'bench',
  'e2e',
];

const houseRules = Object.entries(ALLOWED).map(([folder, allowed]) => ({
  files: [`${folder}/**/*.{ts,tsx}`],
  ignores: ['**/*.test.ts', '**/*.test.tsx', '**/testSetup.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: PACKAGES.filter((name) => !allowed.includes(name)).map((name) => `@jumble/${name}`),
            message: `${folder} may import only: ${allowed.join(', ') || 'nothing of the workspace'}.`,
          },
          { regex: '^(\\.\\./){2,}(packages|apps|demo|bench|e2e)/', message: 'Import a package by its name.' },
          ...(folder === 'packages/core' || folder === 'packages/formats' || folder === 'apps/web'
            ? [{ group: ['node:*', 'fs', 'path'], message: `${folder} runs in the browser.` }]
            : []),
          ...(folder === 'packages/core'
            ? [{ group: ['react', '@nestjs/*', 'sharp'], message: 'The core knows no framework.' }]
            : []),
        ],
      },
    ],
  },
}));

/** The rooms of the core, each of which knows only those before it. */
const CORE_ROOMS = [
  ['exact', 'raster', 'trees', 'model', 'colour', 'skeleton', 'ink', 'gaps', 'page', 'cast', 'corrections', 'layout'],
  [
    'regions',
    'survey',
    'trap',
    'holds',
    'compose',
    'handoff',
    'guide',
    'fills',
    'lineart',
    'examples',
    'check',
    'desk',
  ],
].flat();
const GAP_ROOMS = ['hatching', 'proposals', 'borders', 'spaces', 'cells', 'leak'];
const GUIDE_ROOMS = ['register', 'unmix', 'settle'];

/** The rooms of the server: files and database below, what users ask for above. */
const SERVER_ROOMS = [
  ['errors', 'database', 'storage', 'data', 'history', 'workers', 'uploads'],
  ['cast', 'pages', 'handoffs', 'exchange', 'jobs', 'scanner', 'desk'],
].flat();
/** The rooms of the bench: what draws and computes, the store, what every stage does, and the stages. */
const BENCH_ROOMS = ['engine', 'state', 'page', 'tools', 'cast', 'stages'];
/** What a stage keeps is part of the bench's state. */
const STAGE_STATES = [
  './lineart/lineArtState.ts',
  './gaps/gapsState.ts',
  './flats/flatsState.ts',
  './trap/trapState.ts',
  './holds/holdsState.ts',
  './check/checkState.ts',
];

/** Each room of `folder` must not know those after it, but for files named in `except`. */
const roomsInOrder = (folder, rooms, except = {}) =>
  rooms.slice(0, -1).flatMap((room, k) =>
    rooms.slice(k + 1).map((later) => ({
      target: `${folder}/${room}`,
      from: `${folder}/${later}`,
      except: except[`${room} ${later}`] ?? [],
      message: `${room} stands below ${later}: move what both need further down.`,
    })),
  );

const ordered = (files, ignores, zones) => ({
  files,
  ignores: ['**/*.test.ts', '**/*.test.tsx', ...ignores],
  rules: { 'import-x/no-restricted-paths': ['error', { basePath: import.meta.dirname, zones }] },
});

const roomOrder = [
  ordered(
    ['packages/core/src/**/*.ts'],
    ['packages/core/src/tests/**'],
    [
      ...roomsInOrder('packages/core/src', CORE_ROOMS),
      ...roomsInOrder('packages/core/src/gaps', GAP_ROOMS),
      ...roomsInOrder('packages/core/src/guide', GUIDE_ROOMS),
    ],
  ),
  ordered(['apps/server/src/**/*.ts'], [], roomsInOrder('apps/server/src', SERVER_ROOMS)),
  ordered(
    ['apps/web/src/bench/**/*.{ts,tsx}'],
    ['apps/web/src/bench/tests/**'],
    roomsInOrder('apps/web/src/bench', BENCH_ROOMS, { 'state stages': STAGE_STATES }),
  ),
];

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.data/**', 'test-results/**', '**/.cache/**'] },
  ...tseslint.configs.strict,
  prettier,
  {
    files: ['**/*.{ts,tsx,mjs,mts,js}'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver-next': [importX.createNodeResolver({ extensions: ['.ts', '.tsx', '.js', '.mjs'] })],
    },
    rules: {
      'import-x/no-cycle': 'error',
      // Typed arrays are read inside their bounds; the compiler asks for the mark at every access.
      '@typescript-eslint/no-non-null-assertion': 'off',
      // Modules of the server framework are classes without members.
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-restricted-globals': ['error', { name: 'alert', message: 'Say it in the interface.' }],
      eqeqeq: 'error',
      'prefer-const': 'error',
    },
  },
  {
    // Decorator metadata needs the classes themselves, not their types.
    files: ['apps/server/**/*.ts', 'packages/contracts/**/*.ts'],
    rules: { '@typescript-eslint/consistent-type-imports': 'off' },
  },
  {
    files: ['apps/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          paths: [
            {
              name: '@jumble/contracts',
              allowTypeImports: true,
              message: "Types alone: its decorators are the server's.",
            },
          ],
        },
      ],
    },
  },
  ...houseRules,
  ...roomOrder,
);
