import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** What takes longest begins first, so that it is not what everything waits for at the end. */
const longest = [
  'tests/crash/',
  'tests/property/',
  'tests/rules/',
  'tests/services/demo',
  'tests/services/prospects',
  'tests/services/money',
  'tests/services/doors',
  'tests/services/policy',
  'tests/services/',
];

class LongestFirst extends BaseSequencer {
  override sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const rank = ({ moduleId }: TestSpecification) => {
      const found = longest.findIndex((part) => moduleId.includes(part));
      return found === -1 ? longest.length : found;
    };
    return Promise.resolve([...files].sort((a, b) => rank(a) - rank(b)));
  }
}

export default defineConfig({
  test: {
    globalSetup: ['tests/helpers/worker.ts'],
    include: ['src/**/*.test.ts', 'tests/{property,services,crash,rules}/**/*.test.ts'],
    // the longest takes a minute and a half; a machine on which others work can take some times that
    testTimeout: 300_000,
    hookTimeout: 300_000,
    pool: 'forks',
    // what a file loads the next one has: half of the time went into loading the same again. No file changes what another reads
    isolate: false,
    // one more than there are cores: a file waits for its server as often as it computes
    maxWorkers: availableParallelism() + 1,
    sequence: { sequencer: LongestFirst },
  },
});
