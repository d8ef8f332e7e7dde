const transform = (jsx) => ({
  '^.+\\.tsx?$': [
    '<rootDir>/scripts/jestTransform.mjs',
    {
      jsc: {
        parser: { syntax: 'typescript', tsx: jsx, decorators: true },
        transform: {
          legacyDecorator: true,
          decoratorMetadata: true,
          useDefineForClassFields: false,
          react: { runtime: 'automatic' },
        },
        target: 'es2022',
        keepClassNames: true,
      },
      module: { type: 'es6' },
    },
  ],
});

const project = (displayName, roots, extra = {}) => ({
  displayName,
  rootDir: import.meta.dirname,
  roots: roots.map((folder) => `<rootDir>/${folder}`),
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: transform(displayName === 'web'),
  ...extra,
});

export default {
  projects: [
    project('core', ['packages', 'demo', 'bench']),
    project('server', ['apps/server', 'apps/cli']),
    project('web', ['apps/web/src'], {
      testEnvironment: 'jsdom',
      setupFiles: ['<rootDir>/apps/web/src/testSetup.ts'],
      moduleNameMapper: { '\\.css$': '<rootDir>/apps/web/src/emptyStyle.ts' },
    }),
  ],
  testTimeout: 60000,
  // By default one core is left out: of two that is half the machine.
  maxWorkers: '100%',
};
