/** Import directions: app → views → ui, work → store → core; work → connect → core. No exceptions. */
const floor = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^${from}` },
  to: { path: '^(src|stand-ins|demo)/', pathNot: [`^${from}`, ...allowed.map((a) => `^${a}`)] },
});

/** The rooms of work, from the ground up: each imports only those before it. */
const ROOMS = [
  'context',
  'outbox',
  'schedule',
  'assets',
  'quoting',
  'memory',
  'readings',
  'listings',
  'editing',
  'groups',
  'print',
  'orders',
  'order-book',
  'feeds',
  'statements',
  'pricing',
  'catalogue',
  'sending',
  'connections',
  'browser',
  'jobs',
  'overview',
  'desk',
];
const rooms = ROOMS.map((room, k) => ({
  name: `work-room-${room}`,
  severity: 'error',
  from: { path: `^src/work/${room}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^src/work/', pathNot: ROOMS.slice(0, k + 1).map((r) => `^src/work/${r}/`) },
}));

module.exports = {
  forbidden: [
    ...rooms,
    {
      name: 'work-has-rooms',
      severity: 'error',
      comment: 'every file of work is in a room of the list above',
      from: {
        path: '^src/work/',
        pathNot: ['^src/work/model\\.ts$', ...ROOMS.map((r) => `^src/work/${r}/`)],
      },
      to: {},
    },
    floor('core-is-the-ground', 'src/core/', []),
    floor('connect-on-core', 'src/connect/', ['src/core/']),
    floor('store-on-core', 'src/store/', ['src/core/']),
    floor('work-on-store-and-connect', 'src/work/', ['src/store/', 'src/connect/', 'src/core/']),
    floor('ui-on-work', 'src/ui/', ['src/work/', 'src/core/']),
    floor('views-on-ui', 'src/views/', ['src/ui/', 'src/work/', 'src/core/']),
    floor('app-on-views', 'src/app/', [
      'src/views/',
      'src/ui/',
      'src/work/',
      'src/store/',
      'src/connect/',
      'src/core/',
    ]),
    floor('server-is-a-gate', 'src/server/', []),
    floor('stand-ins-know-only-the-wire', 'stand-ins/', ['src/connect/wire.ts']),
    floor('demo-lives-the-past', 'demo/', [
      'stand-ins/',
      'src/work/',
      'src/store/',
      'src/connect/',
      'src/core/',
    ]),
    {
      name: 'subjects-by-their-face',
      severity: 'error',
      comment: 'a subject of the core is entered by its index.ts only',
      from: { path: '^src/(?:core/([^/]+)|(?!core/)[^/]+|proxy)', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/([^/]+)/', pathNot: ['^src/core/[^/]+/index\\.ts$', '^src/core/$1/'] },
    },
    {
      name: 'core-stays-pure',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypes: ['npm', 'core', 'npm-dev'],
        pathNot: 'node_modules/(parse5|entities|mustache|papaparse|date-fns|@date-fns/tz|validator)/',
      },
    },
    {
      name: 'no-page-opens-the-database',
      severity: 'error',
      comment: 'a page asks its worker, through work/desk/client.ts',
      from: { path: '^src/(?:views|ui|app)/' },
      to: {
        path: ['^src/store/', '^src/work/browser\\.ts$', '^src/work/desk/(?!client)', 'node_modules/dexie'],
        dependencyTypesNot: ['type-only'],
      },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default'],
    },
  },
};
