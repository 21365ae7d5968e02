import js from '@eslint/js';
import next from '@next/eslint-plugin-next';
import prettier from 'eslint-config-prettier';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';
import { noCycles } from './scripts/lint/noCycles.mjs';

/**
 * Folders in order: a file may import from its own folder and from those listed for it, never
 * upward.
 */
const allowedBelow = {
  core: [],
  workers: ['core'],
  ui: ['core/units', 'core/grid', 'core/problem', 'core/text'],
  server: ['core'],
  cli: ['core'],
  desk: ['core', 'workers', 'ui'],
  app: ['core', 'desk', 'stages', 'ui', 'server'],
  stages: ['core', 'desk', 'ui', 'workers'],
};

/** The same inside the core: small vocabulary first, the document last. */
const vocabulary = ['air', 'grid', 'spectrum', 'units'];
const models = ['measurement', 'driver', 'network', 'radiation'];
const coreBelow = {
  units: [],
  air: [],
  grid: [],
  spectrum: [],
  search: [],
  network: ['spectrum'],
  radiation: ['air', 'spectrum'],
  baffle: ['radiation'],
  box: ['measurement', 'search'],
  tracing: [],
  measurement: ['units', 'grid', 'spectrum', 'air', 'search', 'radiation'],
  driver: ['air', 'grid', 'spectrum', 'measurement', 'search', 'radiation'],
  document: ['air', 'units', 'measurement', 'radiation', 'box'],
  log: ['document'],
  told: ['air', 'units', 'measurement', 'radiation', 'document'],
  editing: ['document'],
  cabinet: ['air', 'units', 'driver', 'box', 'document'],
  circuit: ['network', 'document'],
  prediction: [
    ...[...vocabulary, ...models, 'search', 'baffle', 'box', 'document', 'cabinet', 'circuit'],
  ],
  insight: [...vocabulary, ...models, 'document', 'editing', 'circuit', 'prediction'],
  layout: [
    ...[...vocabulary, ...models, 'baffle', 'document', 'editing', 'cabinet', 'prediction'],
    'insight',
  ],
  formats: [
    ...['units', 'grid', 'measurement', 'spectrum', 'radiation', 'driver', 'tracing'],
    ...['document', 'log', 'editing', 'prediction', 'layout'],
  ],
  rig: ['grid', 'spectrum', 'measurement', 'radiation', 'driver', 'formats'],
  brief: [...vocabulary, 'measurement', 'driver', 'box', 'radiation', 'document', 'prediction'],
  promises: [
    'cabinet',
    'radiation',
    'units',
    'measurement',
    'driver',
    'document',
    'log',
    'editing',
    'prediction',
    'insight',
    'brief',
  ],
  filters: [
    ...[...vocabulary, ...models, 'search', 'document', 'editing', 'circuit', 'prediction'],
    'brief',
  ],
  fitting: [
    ...[...vocabulary, ...models, 'search', 'document', 'editing', 'circuit', 'prediction'],
    ...['brief', 'promises'],
  ],
  exploration: [
    ...[...vocabulary, ...models, 'document', 'editing', 'circuit', 'prediction', 'brief'],
    ...['insight', 'promises', 'filters', 'fitting'],
  ],
  lows: [
    ...[...vocabulary, ...models, 'search', 'box', 'document', 'editing', 'cabinet', 'circuit'],
    ...['prediction', 'insight', 'layout', 'formats', 'brief', 'promises'],
  ],
  around: [
    ...[...vocabulary, ...models, 'search', 'baffle', 'document', 'editing', 'circuit'],
    ...['prediction', 'insight', 'layout', 'formats', 'brief', 'promises', 'fitting'],
  ],
};

const folders = Object.keys(allowedBelow);
const upward = (folder) =>
  folders
    .filter((other) => other !== folder && !allowedBelow[folder].some((a) => a === other))
    .map((other) => {
      const exceptions = allowedBelow[folder].filter((a) => a.startsWith(`${other}/`));
      return {
        group: [`@/${other}/**`, ...exceptions.flatMap((a) => [`!@/${a}`, `!@/${a}/**`])],
        message: `src/${folder} may not import from src/${other}: imports point downward (docs/architecture.md).`,
      };
    });

const corePackages = [
  'zod',
  'fflate',
  'fast-json-patch',
  'fft.js',
  '@tarikjabiri/dxf',
  'pdfkit',
  'maxrects-packer',
  'pdfkit/output',
  'pdfkit/standard-fonts/Helvetica',
  '@noble/hashes/sha2.js',
  '@noble/hashes/utils.js',
];
const coreUpward = (folder) =>
  Object.keys(coreBelow)
    .filter((other) => other !== folder && !coreBelow[folder].includes(other))
    .map((other) => ({
      group: [`@/core/${other}/**`, `**/../${other}/**`],
      message: `core/${folder} may not import from core/${other}.`,
    }));

const noReact = {
  group: ['react', 'react-dom', 'next', 'next/**', 'styled-components', 'node:*', 'zustand'],
  message: 'The core knows neither React nor Node nor the DOM.',
};

export default tseslint.config(
  { ignores: ['.next/', 'dist/', 'node_modules/', '.fair/', 'next-env.d.ts', 'test-results/'] },
  js.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    extends: [...tseslint.configs.recommendedTypeChecked, ...tseslint.configs.stylisticTypeChecked],
    plugins: {
      'react-hooks': reactHooks,
      '@next/next': next,
      structure: { rules: { 'no-cycles': noCycles } },
    },
    languageOptions: {
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      ...reactHooks.configs.recommended.rules,
      ...next.configs.recommended.rules,
      '@typescript-eslint/consistent-type-definitions': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-empty-object-type': [
        'error',
        { allowInterfaces: 'with-single-extends' },
      ],
      'no-console': 'error',
      'structure/no-cycles': 'error',
    },
  },
  ...Object.keys(allowedBelow).map((folder) => ({
    files: [`src/${folder}/**`],
    // Tests may reach for tests/fixtures.
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            ...upward(folder),
            { group: ['../../**'], message: 'Cross-folder imports are written @/…' },
          ],
        },
      ],
    },
  })),
  ...Object.keys(coreBelow).map((folder) => ({
    files: [`src/core/${folder}/**`],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            ...upward('core'),
            ...coreUpward(folder),
            noReact,
            {
              regex: `^(?!@/core/|\\.\\.?/|(${corePackages.join('|')})$)`,
              message: 'Not a package of the core.',
            },
          ],
        },
      ],
      'no-restricted-syntax': [
        'error',
        { selector: 'ImportExpression', message: 'The core has no dynamic imports.' },
        {
          selector: 'TSImportType',
          message: 'Import types at the top, where the import rules see them.',
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'process',
        'Buffer',
        'fetch',
        'performance',
        'setTimeout',
      ],
    },
  })),
  { files: ['src/cli/**', 'scripts/**', 'bin/**', 'tests/**'], rules: { 'no-console': 'off' } },
  {
    files: ['scripts/**/*.mjs', 'bin/**/*.mjs', '*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        Buffer: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        clearTimeout: 'readonly',
        performance: 'readonly',
        AbortSignal: 'readonly',
      },
    },
  },
  prettier,
);
