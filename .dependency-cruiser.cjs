/**
 * Which room may read which: a room reads those that are listed for it and itself, and nothing reads in a circle. Tests are free. Rooms stand in the order in which
 * they can be understood: each needs only what stands above it.
 */
const rooms = {
  'core/src': {
    pixels: [],
    blend: ['pixels'],
    measure: ['pixels'],
    params: ['pixels'],
    resources: ['pixels', 'params'],
    geometry: ['pixels', 'params', 'resources'],
    expressions: ['pixels', 'blend', 'geometry'],
    picture: ['geometry'],
    focus: ['params', 'geometry', 'expressions'],
    painting: ['resources', 'geometry', 'expressions'],
    kinds: ['pixels', 'measure', 'params', 'resources', 'geometry', 'expressions', 'picture', 'focus', 'painting'],
    masks: ['pixels', 'params', 'geometry', 'expressions', 'painting'],
    stack: ['pixels', 'blend', 'measure', 'params', 'resources', 'geometry', 'expressions', 'picture', 'painting', 'kinds', 'masks'],
    gpu: ['pixels', 'blend', 'expressions', 'kinds', 'masks', 'stack'],
    engine: ['pixels', 'blend', 'resources', 'geometry', 'expressions', 'stack', 'gpu'],
    formats: ['pixels', 'resources', 'geometry', 'expressions', 'masks', 'stack'],
    looks: ['pixels', 'blend', 'measure', 'params', 'resources', 'geometry', 'kinds', 'masks', 'stack', 'formats'],
    words: ['blend', 'measure', 'params', 'geometry', 'kinds', 'focus', 'masks', 'stack', 'formats', 'looks'],
  },
  'app/src': {
    words: [],
    offline: [],
    theme: ['words'],
    state: ['words', 'offline', 'theme'],
    controls: ['words', 'theme', 'state'],
    engine: ['words', 'offline', 'state'],
    edits: ['words', 'state', 'engine'],
    exports: ['words', 'theme', 'state', 'controls'],
    phone: ['words', 'offline', 'theme', 'state', 'controls'],
    boards: ['words', 'theme', 'state', 'controls', 'engine', 'edits'],
    onPhoto: ['words', 'theme', 'state', 'controls', 'engine', 'edits'],
    shelf: ['words', 'offline', 'theme', 'state', 'controls', 'exports', 'phone'],
    params: ['words', 'theme', 'state', 'controls', 'engine', 'edits', 'shelf'],
    viewer: ['words', 'theme', 'state', 'controls', 'engine', 'edits', 'onPhoto'],
    lessons: ['words', 'theme', 'state', 'controls'],
    looks: ['words', 'theme', 'state', 'controls', 'engine', 'edits', 'shelf', 'viewer', 'lessons'],
    channel: ['words', 'theme', 'state', 'controls', 'engine', 'edits', 'boards', 'onPhoto', 'params', 'looks'],
    desk: ['words', 'theme', 'state', 'controls', 'engine', 'edits', 'channel'],
    screens: ['words', 'theme', 'controls', 'offline', 'bench', 'looks', 'exports'],
    bench: ['words', 'theme', 'state', 'controls', 'engine', 'edits', 'exports', 'params', 'viewer', 'lessons', 'looks', 'desk'],
  },
};

const TESTS = '\\.test\\.tsx?$';
const forbidden = Object.entries(rooms).flatMap(([root, table]) =>
  Object.entries(table).map(([room, may]) => ({
    name: `${root}/${room}`,
    severity: 'error',
    comment: may.length > 0 ? `It reads ${may.join(', ')}, and no other room.` : 'It reads no other room.',
    from: { path: `^${root}/${room}/`, pathNot: TESTS },
    to: { path: `^${root}/[^/]+/`, pathNot: `^${root}/(${[room, ...may].join('|')})/` },
  })),
);

module.exports = {
  forbidden: [
    ...forbidden,
    {
      name: 'every room has its rules',
      severity: 'error',
      from: { path: '^(core|app)/src/[^/]+/', pathNot: Object.entries(rooms).map(([root, table]) => `^${root}/(${Object.keys(table).join('|')})/`) },
      to: {},
    },
    {
      name: 'core stands alone',
      severity: 'error',
      from: { path: '^core/src/', pathNot: TESTS },
      to: { path: '^(api|render|app|server|cli|bench|e2e)/' },
    },
    { name: 'the wire needs core alone', severity: 'error', from: { path: '^api/src/' }, to: { path: '^(render|server|cli|app|bench|e2e)/' } },
    { name: 'rendering needs no server', severity: 'error', from: { path: '^render/src/' }, to: { path: '^(server|cli|app|bench|e2e)/' } },
    { name: 'no interface in the server', severity: 'error', from: { path: '^server/src/' }, to: { path: '^(cli|app|bench|e2e)/' } },
    { name: 'no server in the command line', severity: 'error', from: { path: '^cli/src/' }, to: { path: '^(server|app|bench|e2e)/' } },
    { name: 'no server in the page', severity: 'error', from: { path: '^app/src/' }, to: { path: '^(render|server|cli)/' } },
    {
      name: 'no engine in the page',
      comment: 'It runs in workers: the page would bring it along, and load for longer.',
      severity: 'error',
      from: { path: '^(app|api)/src/|^core/src/index', pathNot: `^app/src/engine/worker|${TESTS}` },
      to: { path: '^core/(src/(engine/(index|engine|worker)|gpu/|formats/xml)|kernels/)', dependencyTypesNot: ['type-only'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'require', 'node', 'default', 'types'] },
  },
};
