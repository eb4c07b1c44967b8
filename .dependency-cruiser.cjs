/**
 * Arrows point one way only: core <- codecs <- engine <- interface <- app; core <- storage <- interface; codecs <- cli;
 * core <- documents <- engine, cli <- server <- app.
 */
const layer = (name, from, to) => ({ name, severity: 'error', from: { path: from }, to: { path: to } });

/** Within the core; tests may look anywhere. */
const inCore = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: `^core/(${from})/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^core/(${to})/` },
});

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
      '^(codecs|documents|engine|storage|interface|app|cli|server|demo|e2e|bench|scripts)/',
    ),
    inCore(
      'sound-knows-no-programme',
      'loudness|audio|kernels|formats|text|voice',
      'programme|signal|measuring|proposals|check|timeline|deliver',
    ),
    inCore('the-model-knows-no-sound', 'programme', 'signal|measuring|proposals|timeline|deliver'),
    inCore('the-path-knows-no-measurement', 'signal', 'measuring|proposals|check|timeline|deliver'),
    inCore('measuring-judges-nothing', 'measuring', 'proposals|check|timeline|deliver'),
    inCore('the-judge-proposes-nothing', 'check', 'proposals|timeline|deliver'),
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
      comment: 'core may use immer, yup, d3-array and a parser of subtitles; anything else needs a decision',
      from: { path: '^core/', pathNot: '\\.test\\.ts$|^core/testing/' },
      to: {
        path: 'node_modules/',
        pathNot:
          'node_modules/(immer|yup|(@types/)?d3-array|internmap|subsrt-ts|property-expr|tiny-case|toposort)/',
      },
    },
    layer('codecs-know-core-only', '^codecs/', '^(documents|engine|storage|interface|app|cli)/'),
    layer('documents-know-core-only', '^documents/', '^(codecs|engine|storage|interface|app|cli)/'),
    layer(
      'engine-knows-core-and-codecs',
      '^engine/',
      // Workers read and write stored sound themselves; what is stored of it is known to the storage alone. Blobs are read one way.
      '^(storage/(?!soundFiles|blobSlices)|interface/|app/|cli/)',
    ),
    layer('storage-knows-core-only', '^storage/', '^(codecs|documents|engine|interface|app|cli)/'),
    layer('interface-not-app', '^interface/', '^(app|cli|codecs|documents|server)/'),
    layer('cli-knows-core-and-codecs', '^cli/', '^(engine|storage|interface|app|server)/'),
    layer('server-knows-no-page', '^server/', '^(engine|storage|interface|app)/'),
    {
      name: 'tests-are-not-imported',
      severity: 'error',
      from: { pathNot: '\\.test\\.tsx?$|^e2e/|^bench/|/testing/|^codecs/fuzz/|^scripts/' },
      to: { path: '\\.test\\.tsx?$|^e2e/|/testing/' },
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
