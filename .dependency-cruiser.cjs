/** Arrows point one way only: core <- codecs <- engine <- interface <- app; core <- storage <- interface; codecs <- cli. */
const layer = (name, from, to) => ({ name, severity: 'error', from: { path: from }, to: { path: to } });

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'not-to-unresolvable',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true },
    },
    layer(
      'core-stands-alone',
      '^core/',
      '^(codecs|engine|storage|interface|app|cli|demo|e2e|bench|scripts)/',
    ),
    {
      name: 'core-uses-no-platform',
      severity: 'error',
      comment: 'core runs in browser, worker and Node alike',
      from: { path: '^core/', pathNot: '\\.test\\.ts$|^core/testing/' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-packages',
      severity: 'error',
      comment: 'core may use immer, yup and a parser of subtitles; anything else needs a decision',
      from: { path: '^core/', pathNot: '\\.test\\.ts$|^core/testing/' },
      to: {
        path: 'node_modules/',
        pathNot: 'node_modules/(immer|yup|subsrt-ts|property-expr|tiny-case|toposort)/',
      },
    },
    layer('codecs-know-core-only', '^codecs/', '^(engine|storage|interface|app|cli)/'),
    layer('engine-knows-core-and-codecs', '^engine/', '^(storage|interface|app|cli)/'),
    layer('storage-knows-core-only', '^storage/', '^(codecs|engine|interface|app|cli)/'),
    layer('interface-not-app', '^interface/', '^(app|cli|codecs)/'),
    layer('cli-knows-core-and-codecs', '^cli/', '^(engine|storage|interface|app)/'),
    {
      name: 'tests-are-not-imported',
      severity: 'error',
      from: { pathNot: '\\.test\\.tsx?$|^e2e/|^bench/|^core/testing/|^codecs/fuzz/|^scripts/' },
      to: { path: '\\.test\\.tsx?$|^e2e/|^core/testing/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'browser', 'require', 'node', 'default', 'types'],
      mainFields: ['module', 'main', 'types'],
    },
  },
};
