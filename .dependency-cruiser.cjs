/** The fences between the parts of the code. `npm run fences` checks them; a test plants violations to prove that they bite. */

/** Folders of the core, lowest first: a folder may use those before it in this table, and itself. */
const CORE = {
  base: [],
  colour: ['base'],
  optics: ['base', 'colour'],
  artwork: ['base', 'colour'],
  edit: ['base', 'colour', 'artwork'],
  stack: ['base', 'colour', 'optics'],
  zones: ['base', 'colour', 'artwork'],
  heights: ['base', 'colour', 'optics', 'stack', 'artwork', 'zones'],
  find: ['base', 'colour', 'optics', 'stack', 'artwork', 'zones'],
  relief: ['base', 'colour', 'optics', 'stack', 'artwork', 'heights'],
  // Pieces made of outlines; how solids are raised from them is the relief's.
  tags: ['base', 'optics', 'stack', 'relief', 'artwork', 'edit'],
  // One way from a picture to a relief: it puts the stages together, and none of them knows of it.
  plan: [
    'base',
    'colour',
    'optics',
    'stack',
    'artwork',
    'edit',
    'zones',
    'heights',
    'relief',
    'tags',
  ],
  printer: ['base'],
  schedule: ['base', 'colour', 'optics', 'stack', 'artwork', 'heights', 'relief', 'printer'],
  wedge: ['base', 'colour', 'optics', 'stack'],
  gcode: ['base', 'stack', 'printer'],
  slicing: ['base', 'stack', 'heights', 'relief', 'printer', 'schedule', 'gcode'],
  rehearse: ['base', 'colour', 'optics', 'stack', 'printer', 'gcode'],
  formats: [
    'base',
    'colour',
    'optics',
    'stack',
    'artwork',
    'edit',
    'zones',
    'heights',
    'relief',
    'tags',
    'printer',
    'schedule',
    'gcode',
  ],
};

const FEATURES = [
  'shelf',
  'stage',
  'tag',
  'artwork',
  'stack',
  'relief',
  'sheet',
  'rack',
  'wedge',
  'versions',
  'find',
  'printers',
  'gcode',
  'rehearse',
];

module.exports = {
  forbidden: [
    {
      name: 'no-cycles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'core-imports-only-core',
      comment: 'The core is pure: nothing of the app, nothing of Node, and only these packages.',
      severity: 'error',
      from: { path: '(^|/)src/core/' },
      to: {
        pathNot: [
          '(^|/)src/core/',
          'node_modules/(fflate|papaparse|zod|@noble/hashes|ml-matrix|ml-levenberg-marquardt|ics|delaunator|fast-xml-parser|fast-xml-validator|@kninnug/constrainautor|clipper2-ts|svgpath|opentype.js)/',
        ],
      },
    },
    ...Object.entries(CORE).map(([folder, allowed]) => ({
      name: `core-${folder}-order`,
      comment:
        'base < colour < optics < stack < heights, relief < plan, schedule < formats; colour < artwork < zones < heights; artwork < edit < plan',
      severity: 'error',
      from: { path: `(^|/)src/core/${folder}/` },
      to: {
        path: '(^|/)src/core/',
        pathNot: [folder, ...allowed].map((name) => `(^|/)src/core/${name}/`),
      },
    })),
    ...['mesh', 'sheet', 'rack', 'project'].map((kind) => ({
      name: `formats-${kind}-alone`,
      severity: 'error',
      from: { path: `(^|/)src/core/formats/${kind}/` },
      to: { path: '(^|/)src/core/formats/', pathNot: `(^|/)src/core/formats/${kind}/` },
    })),
    ...FEATURES.map((feature) => ({
      name: `feature-${feature}-alone`,
      comment: 'Features never import another feature; the app puts them together.',
      severity: 'error',
      from: { path: `(^|/)src/features/${feature}/` },
      to: { path: '(^|/)src/features/', pathNot: `(^|/)src/features/${feature}/` },
    })),
    {
      name: 'features-not-app',
      severity: 'error',
      from: { path: '(^|/)src/(features|state|ui|workers|platform)/' },
      to: { path: '(^|/)src/(app|pages|layouts|cli)/' },
    },
    {
      name: 'ui-knows-no-domain',
      severity: 'error',
      from: { path: '(^|/)src/ui/' },
      to: { path: '(^|/)src/', pathNot: '(^|/)src/ui/' },
    },
    {
      name: 'workers-import-core-and-platform',
      severity: 'error',
      from: { path: '(^|/)src/workers/' },
      to: { path: '(^|/)src/', pathNot: '(^|/)src/(workers|core|platform)/' },
    },
    ...['artwork', 'export', 'photo', 'find', 'gcode', 'rehearse'].map((domain) => ({
      name: `worker-${domain}-alone`,
      severity: 'error',
      comment: 'A worker may speak of what another one answers with, and holds none of its code.',
      from: { path: `(^|/)src/workers/${domain}/` },
      to: {
        path: '(^|/)src/workers/[^/]+/',
        pathNot: `(^|/)src/workers/(${domain}/|[^/]+/jobs\\.ts$)`,
      },
    })),
    {
      name: 'slices-stand-alone',
      severity: 'error',
      comment: 'A slice of the document is checked by itself.',
      from: { path: '(^|/)src/state/slices/([^/]+)\\.ts$' },
      to: { path: '(^|/)src/', pathNot: '(^|/)src/(core|platform/[^/]+\\.ts$)' },
    },
    {
      name: 'platform-imports-core',
      severity: 'error',
      from: { path: '(^|/)src/platform/' },
      to: { path: '(^|/)src/', pathNot: '(^|/)src/(platform|core)/|node_modules/' },
    },
    {
      name: 'state-knows-no-screens',
      severity: 'error',
      from: { path: '(^|/)src/state/' },
      to: { path: '(^|/)src/(features|ui)/' },
    },
    {
      name: 'cli-uses-core-and-node',
      severity: 'error',
      from: { path: '(^|/)src/(cli|server|pages/api)/' },
      to: {
        path: '(^|/)src/',
        // A project is read, and its relief and sheet are asked for, as the app does it.
        pathNot:
          '(^|/)src/(cli|server|core|platform/node|platform/[^/]+\\.ts$|state/(project-file|project-export|document-facts|new-tag|tag-plan|ready-for-tags)\\.ts$)',
      },
    },
    {
      name: 'browser-code-not-node',
      severity: 'error',
      from: { path: '(^|/)src/(app|features|state|ui|workers|platform/browser)/' },
      to: { path: '(^|/)src/platform/node/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
    },
  },
};
