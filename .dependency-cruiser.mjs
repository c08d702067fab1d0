import { floors, owners, parts, readFrom } from './scripts/lib/house.mjs';

const tables = '^src/server/ground/tables/';

/** Parts of src import what they may, and nothing else of ours. */
const betweenParts = Object.entries(parts).map(([part, others]) => ({
  name: `${part}-imports-only-its-own`,
  severity: 'error',
  from: { path: `^src/${part}/`, pathNot: '^src/server/assemble\\.ts$' },
  to: {
    path: '^src/',
    // what stands behind a port knows the port
    pathNot: `^src/(${[part, ...others].join('|')})/${part === 'standins' ? '|^src/server/ground/ports\\.ts$' : ''}`,
  },
}));

/** Each floor knows lower ones only; what stands beside the floors (app, assemble, main) knows all, and none of them knows it. */
const upward = floors.map((floor, i) => ({
  name: `${floor.join('-')}-knows-only-lower-floors`,
  severity: 'error',
  from: { path: `^src/server/(${floor.join('|')})/` },
  to: {
    path: '^src/server/',
    pathNot: `^src/server/(${floors
      .slice(0, i + 1)
      .flat()
      .join('|')})/`,
  },
}));

const floorOf = (folder) => floors.findIndex((floor) => floor.includes(folder.split('/')[0]));

/** Tables of a floor are known on it and above. */
const tablesFromBelow = Object.entries(owners)
  .map(([file, owner]) => [file, floorOf(readFrom[file] ?? owner)])
  .filter(([, floor]) => floor > 0)
  .map(([file, floor]) => ({
    name: `tables-of-${file}-are-not-known-below`,
    severity: 'error',
    from: {
      path: `^src/server/(${floors.slice(0, floor).flat().join('|')})/`,
      pathNot: tables,
    },
    to: { path: `${tables}${file}\\.ts$` },
  }));

export default {
  forbidden: [
    ...betweenParts,
    ...upward,
    ...tablesFromBelow,
    {
      name: 'core-is-pure',
      comment: 'core imports no package and nothing of the machine',
      severity: 'error',
      from: { path: '^src/core/' },
      to: { pathNot: '^src/core/' },
    },
    {
      name: 'places-know-no-other-place',
      comment: 'what two places need is kit, or a part of their stage',
      severity: 'error',
      from: { path: '^src/web/desk/([^/]+/[^/]+)/' },
      to: { path: '^src/web/desk/[^/]+/[^/]+/', pathNot: '^src/web/desk/$1/' },
    },
    {
      name: 'kit-knows-no-place',
      severity: 'error',
      from: { path: '^src/web/kit/' },
      to: { path: '^src/web/(desk|portal|public)/' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-circles-of-rooms',
      severity: 'error',
      scope: 'folder',
      from: { path: '^src/(server|web|core)/' },
      to: { circular: true },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    // tests know whatever they try, and nothing knows a test
    exclude: { path: ['\\.css$', '\\.test\\.tsx?$', '^tests/'] },
  },
};
