// The property tests in their long form: npm run property -- --runs=100000 [--seed=N] [--kills=N]. They print their seed; the same seed plays the same runs.
import { join } from 'node:path';
import { checkNode, fail, installed, root, run } from './lib/prepare.mjs';

checkNode();
installed();
const given = new Map(
  process.argv.slice(2).map((arg) => {
    const match = /^--(runs|seed|kills)=(\d+)$/.exec(arg);
    if (!match) fail(`“${arg}” is not understood: write --runs=100000, --kills=500 or --seed=20270312.`);
    return [match[1], match[2]];
  }),
);
const seed = given.get('seed') ?? String(Math.floor(Math.random() * 2_000_000_000));
const runs = given.get('runs') ?? '10000';
const kills = given.get('kills');
process.stdout.write(
  `Each property ${runs} times, ${kills ? `the server ended hard ${kills} times, ` : ''}seed ${seed}; once more with: npm run property -- --runs=${runs}${kills ? ` --kills=${kills}` : ''} --seed=${seed}\n`,
);
const env = {
  ...process.env,
  GRAVENEL_RUNS: runs,
  GRAVENEL_SEED: seed,
  ...(kills ? { GRAVENEL_KILLS: kills } : {}),
};
process.exitCode = run(
  join(root, 'node_modules/.bin/vitest'),
  ['run', 'tests/property', 'src/core/terms', ...(kills ? ['tests/crash'] : [])],
  { env },
);
