import { floors } from './scripts/lib/floors.mjs';

const rooms = (list) => list.flat().join('|');

/** Each floor knows lower ones only; what stands beside the floors (app, assemble, main) knows all, and none of them knows it. */
const upward = floors.map((floor, i) => ({
  name: `${floor.join('-')}-knows-only-lower-floors`,
  severity: 'error',
  from: { path: `^src/server/(${floor.join('|')})/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^src/server/', pathNot: `^src/server/(${rooms(floors.slice(0, i + 1))})/` },
}));

export default {
  forbidden: [
    ...upward,
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['\\.css$'] },
  },
};
