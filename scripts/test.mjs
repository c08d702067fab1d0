// Everything that must hold: lint, types, unit tests, build, browser tests. The last line is the count.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { browser, built, checkNode, installed, root, run } from './lib/prepare.mjs';

const bin = (name) => join(root, 'node_modules/.bin', name);
let passed = 0;
let failed = 0;
const step = (name, ok) => {
  if (ok) passed += 1;
  else failed += 1;
  process.stdout.write(`${ok ? 'passed' : 'FAILED'}: ${name}\n`);
};

/** Runs a program beside others. @returns how it ended, and what it said: told in one piece */
function heard(name, args) {
  return new Promise((resolve) => {
    const child = spawn(name, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const out of [child.stdout, child.stderr]) out.on('data', (text) => (said += String(text)));
    child.once('error', (fault) => resolve({ code: 1, said: `${fault.message}\n` }));
    child.once('close', (code) => resolve({ code, said }));
  });
}

function chromium() {
  if (existsSync(browser())) return true;
  if (process.getuid?.() !== 0) {
    process.stdout.write(
      'Chromium is not installed: install Debian’s chromium-headless-shell, or name one with GRAVENEL_CHROMIUM.\n',
    );
    return false;
  }
  process.stdout.write('Installing Debian’s chromium-headless-shell.\n');
  run('apt-get', ['update', '-q']);
  return (
    run('apt-get', ['install', '-y', '-q', '--no-install-recommends', 'chromium-headless-shell'], {
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }) === 0
  );
}

function counted(file, count) {
  if (!existsSync(file)) return step(`${file} was written`, false);
  const [ok, bad] = count(JSON.parse(readFileSync(file, 'utf8')));
  passed += ok;
  failed += bad;
  return undefined;
}

/** Titles of the browser tests that passed only at a later try. */
function flakyIn(suites = []) {
  return suites.flatMap((s) => [
    ...(s.specs ?? [])
      .filter((spec) => spec.tests.some((t) => t.status === 'flaky'))
      .map((spec) => `${s.title}: ${spec.title}`),
    ...flakyIn(s.suites),
  ]);
}

checkNode();
installed();
rmSync(join(root, 'test-results'), { recursive: true, force: true });
mkdirSync(join(root, 'test-results'));
built();
// none of these waits for another, and each keeps one core busy
const beside = [
  ['lint', bin('eslint'), ['.', '--max-warnings', '0']],
  // two packages have a program of this name: this is the quicker one
  ['types', process.execPath, [join(root, 'node_modules/tsc-native/bin/tsc'), '--noEmit']],
  ['formatted', bin('prettier'), ['--check', '.', '--log-level', 'warn']],
  [
    'the house: floors, parts, owners of tables, no circles',
    bin('depcruise'),
    ['src', '--config', '.dependency-cruiser.mjs', '--output-type', 'err'],
  ],
  ['the demo is made', process.execPath, [join(root, 'scripts/demo-made.mjs')]],
  ['the journey through HTTP', process.execPath, ['--import', 'tsx', join(root, 'scripts/journey/main.ts')]],
];
for (const [name, ended] of await Promise.all(
  beside.map(async ([name, command, args]) => [name, await heard(command, args)]),
)) {
  process.stdout.write(ended.said);
  step(name, ended.code === 0);
}
const units = run(bin('vitest'), [
  'run',
  '--reporter=default',
  '--reporter=json',
  '--outputFile.json=test-results/unit.json',
]);
counted(join(root, 'test-results/unit.json'), (r) => [
  r.numPassedTests,
  r.numFailedTests + (r.numFailedTests === 0 && units !== 0 ? 1 : 0),
]);
if (chromium()) {
  run(bin('playwright'), ['test']);
  counted(join(root, 'test-results/e2e.json'), (r) => {
    // what passed only at its second try is no pass: it is named, and mended
    for (const title of flakyIn(r.suites)) process.stdout.write(`FLAKY: ${title}\n`);
    return [r.stats.expected, r.stats.unexpected + r.stats.flaky + (r.errors?.length ?? 0)];
  });
} else step('browser tests', false);
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed === 0 ? 0 : 1;
