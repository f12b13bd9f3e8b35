// Arrows point down only: web and server > words, bench > contract > sheet > core. `npm run lint` fails where one points up.
/** It computes, and knows no platform. */
const PURE = '^(packages/core/src|node_modules/fft\\.js)';
module.exports = {
  forbidden: [
    {
      name: 'core-is-pure',
      comment: 'no React, Express, TypeORM, DOM or Node in the core',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.(test|fixture)\\.ts$' },
      to: { pathNot: PURE },
    },
    {
      name: 'contract-knows-core-only',
      severity: 'error',
      from: { path: '^packages/contract/src', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^(packages/(core|contract|sheet)/src|node_modules/(typebox|ajv|ajv-formats))' },
    },
    {
      name: 'bench-knows-core-only',
      severity: 'error',
      from: { path: '^packages/bench/src', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^packages/(core|bench)/src' },
    },
    {
      name: 'words-know-core-only',
      comment: 'what is judged knows nothing of how it is said',
      severity: 'error',
      from: { path: '^packages/words/src', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^packages/(core|words)/src' },
    },
    {
      name: 'sheet-knows-core-only',
      severity: 'error',
      from: { path: '^packages/sheet/src', pathNot: '\\.test\\.ts$' },
      to: { pathNot: '^(packages/(core|sheet)/src|node_modules/qrcode-generator)' },
    },
    { name: 'web-and-server-apart', severity: 'error', from: { path: '^apps/web' }, to: { path: '^apps/server' } },
    { name: 'server-and-web-apart', severity: 'error', from: { path: '^apps/server' }, to: { path: '^apps/web' } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'found',
      comment: 'every import leads somewhere',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '\\?|vite/client|^virtual:' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.css$' },
    tsConfig: { fileName: 'tsconfig.base.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js', '.json', '.css'],
    },
  },
};
