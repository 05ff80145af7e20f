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
  },
  'app/src': {
    offline: [],
    theme: [],
    state: ['offline', 'theme'],
    controls: ['theme', 'state'],
    engine: ['offline', 'state'],
    edits: ['state', 'engine'],
    exports: ['theme', 'state', 'controls'],
    phone: ['offline', 'theme', 'state', 'controls'],
    boards: ['theme', 'state', 'controls', 'engine', 'edits'],
    onPhoto: ['theme', 'state', 'controls', 'engine', 'edits'],
    shelf: ['offline', 'theme', 'state', 'controls', 'exports', 'phone'],
    params: ['theme', 'state', 'controls', 'engine', 'edits', 'shelf'],
    viewer: ['theme', 'state', 'controls', 'engine', 'edits', 'onPhoto'],
    lessons: ['theme', 'state', 'controls'],
    looks: ['theme', 'state', 'controls', 'engine', 'edits', 'shelf', 'viewer', 'lessons'],
    channel: ['theme', 'state', 'controls', 'engine', 'edits', 'boards', 'onPhoto', 'params', 'looks'],
    desk: ['theme', 'state', 'controls', 'engine', 'edits', 'channel'],
    screens: ['theme', 'controls', 'offline', 'bench', 'looks', 'exports'],
    bench: ['theme', 'state', 'controls', 'engine', 'edits', 'exports', 'params', 'viewer', 'lessons', 'looks', 'desk'],
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
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'require', 'node', 'default', 'types'] },
  },
};
