/** The layers of the project: nothing imports a storey above it, and a room is entered by its index only. */
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-orphans',
      severity: 'error',
      from: {
        orphan: true,
        pathNot: [
          '\\.d\\.ts$',
          '(^|/)vite(st)?\\.config\\.ts$',
          'tests/.*',
          'bench/.*',
          '\\.test\\.ts$',
          'main\\.tsx?$',
        ],
      },
      to: {},
    },
    {
      name: 'not-resolvable',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '\\.(css|scss|woff2?)$' },
    },
    {
      name: 'core-is-pure',
      comment: 'The core imports itself, zod and small pure libraries: no interface, no Node, no transport.',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test(-support)?\\.ts$' },
      to: {
        pathNot: ['^packages/core/src', 'node_modules/(zod|papaparse|@types/papaparse|fast-xml-parser)/'],
      },
    },
    {
      name: 'contract-imports-core-only',
      severity: 'error',
      from: { path: '^packages/contract' },
      to: { path: '^apps/' },
    },
    { name: 'web-not-server', severity: 'error', from: { path: '^apps/web' }, to: { path: '^apps/server' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^apps/server' }, to: { path: '^apps/web' } },
    {
      name: 'migrations-stand-alone',
      comment:
        'What a migration did stays what it did: it takes nothing from the program, which goes on changing.',
      severity: 'error',
      from: { path: '^apps/server/src/database/.*\\.migration\\.ts$' },
      to: { pathNot: 'node_modules/typeorm/' },
    },
    {
      name: 'core-midi-stands-alone',
      severity: 'error',
      from: { path: '^packages/core/src/midi' },
      to: { path: '^packages/core/src/(?!midi|result)' },
    },
    {
      name: 'core-gear-knows-midi',
      severity: 'error',
      from: { path: '^packages/core/src/gear' },
      to: { path: '^packages/core/src/(floor|routing|show|engine|standins|proof|planner|formats)' },
    },
    {
      name: 'core-floor-knows-gear',
      severity: 'error',
      from: { path: '^packages/core/src/floor' },
      to: { path: '^packages/core/src/(routing|show|engine|standins|proof|planner|formats)' },
    },
    {
      name: 'core-show-knows-floor',
      severity: 'error',
      from: { path: '^packages/core/src/show' },
      to: { path: '^packages/core/src/(routing|engine|standins|proof|planner|formats)' },
    },
    {
      name: 'core-standins-know-gear-and-midi',
      severity: 'error',
      from: { path: '^packages/core/src/standins' },
      to: {
        path: '^packages/core/src/(floor|routing|show|engine|proof|planner|formats)',
        pathNot: '^packages/core/src/floor/(index|board)\\.ts$',
      },
    },
    {
      name: 'core-edits-stand-alone',
      severity: 'error',
      from: { path: '^packages/core/src/edits' },
      to: { path: '^packages/core/src/(?!edits)' },
    },
    {
      name: 'core-routing-knows-floor',
      severity: 'error',
      from: { path: '^packages/core/src/routing', pathNot: '\\.test(-support)?\\.ts$' },
      to: { path: '^packages/core/src/(show|engine|standins|proof|formats)' },
    },
    {
      name: 'core-engine-knows-what-it-plays',
      severity: 'error',
      from: { path: '^packages/core/src/engine', pathNot: '\\.test(-support)?\\.ts$' },
      to: { path: '^packages/core/src/(standins|proof|formats)' },
    },
    {
      name: 'core-song-files-stand-on-top',
      comment: 'Nothing of the core needs a song as a file.',
      severity: 'error',
      from: { path: '^packages/core/src/(?!songFile)' },
      to: { path: '^packages/core/src/songFile' },
    },
    {
      name: 'web-no-arrow-up',
      comment: 'What places stand on knows none of them.',
      severity: 'error',
      from: {
        path: '^apps/web/src/(ui|drafts|live|api|files|screen|store|words|edits|documents|gear|boards)',
      },
      to: { path: '^apps/web/src/features' },
    },
    {
      name: 'web-places-apart',
      comment: 'A place knows no other place: what two of them show or change is a room below both.',
      severity: 'error',
      from: { path: '^apps/web/src/features/([^/]+)/' },
      to: { path: '^apps/web/src/features/', pathNot: '^apps/web/src/features/$1/' },
    },
    {
      name: 'web-words-and-edits-are-pure',
      comment: 'Words and edits are functions of documents: they know no page.',
      severity: 'error',
      from: { path: '^apps/web/src/(words|edits)', pathNot: '\\.test\\.ts$' },
      to: { path: '^apps/web/src/(ui|drafts|live|api|screen|store|documents|gear|boards)' },
    },
    {
      name: 'web-ui-stands-alone',
      comment: 'What is drawn from its own properties only.',
      severity: 'error',
      from: { path: '^apps/web/src/ui' },
      to: { path: '^apps/web/src/(drafts|live|api|screen|store|documents|gear|boards|edits)' },
    },
    {
      name: 'rooms-by-their-door',
      comment: 'From outside a room only its index is imported.',
      severity: 'error',
      from: { path: '^packages/core/src/([^/]+)/', pathNot: '\\.test(-support)?\\.ts$' },
      to: { path: '^packages/core/src/([^/]+)/', pathNot: ['^packages/core/src/$1/', '/index\\.ts$'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs'],
    },
  },
};
