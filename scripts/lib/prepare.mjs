// What start, test and the other commands share. Plain Node, no dependency: it must run before anything is installed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

// not import.meta.dirname: a Node that is too old must get as far as the sentence that says so
export const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/[\\/]$/, '');

/** Ends with a sentence, not a stack. */
export function fail(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

/** Refuses a Node that is too old. */
export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 12))
    fail(`Gravenel needs Node.js 20.12 or newer; this is ${process.versions.node}.`);
}

/** Runs a command and passes its output on; ends with its code if it fails. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (done.error) fail(`${command} could not be started: ${done.error.message}`);
  return done.status ?? 1;
}

export function must(command, args, options) {
  const code = run(command, args, options);
  if (code !== 0) process.exit(code);
}

/** The browser of the browser tests: the one that is named, else Debian’s shell without windows, which takes some 60 % of the time, else the whole one. */
export function browser() {
  const known = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];
  return process.env.GRAVENEL_CHROMIUM ?? known.find((path) => existsSync(path)) ?? known[0];
}

const digest = (text) => createHash('sha256').update(text).digest('hex');

function stampOf(folders) {
  const parts = [];
  const walk = (path) => {
    const stat = statSync(path);
    if (stat.isDirectory()) for (const name of readdirSync(path).sort()) walk(join(path, name));
    else parts.push(`${path}:${stat.size}:${stat.mtimeMs}`);
  };
  for (const folder of folders) if (existsSync(join(root, folder))) walk(join(root, folder));
  return digest(parts.join('\n'));
}

/** Installs packages if the lock file is newer than what is there. */
export function installed() {
  const mark = join(root, 'node_modules/.gravenel-lock');
  const lock = digest(readFileSync(join(root, 'package-lock.json')) + process.version);
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  process.stdout.write(
    'Installing packages; the database driver compiles for some minutes the first time.\n',
  );
  must('npm', ['ci', '--no-audit', '--no-fund']);
  writeFileSync(mark, lock);
}

/** Builds server and interface if a source is newer than the build. */
export function built() {
  const mark = join(root, 'dist/.stamp');
  const stamp = stampOf(['src', 'package-lock.json', 'vite.config.ts', 'scripts/build.mjs']);
  if (existsSync(mark) && readFileSync(mark, 'utf8') === stamp) return;
  must(process.execPath, [join(root, 'scripts/build.mjs')]);
  mkdirSync(join(root, 'dist'), { recursive: true });
  writeFileSync(mark, stamp);
}

/** The first of the ports for which the demo of the tests is made: nobody listens there, a copy names its own. */
export const demoPort = 4700;

const hour = 3_600_000;

/** Takes away what a making left behind that was interrupted. */
function removeLeftovers() {
  for (const name of readdirSync(join(root, 'dist')).filter((n) => n.startsWith('demo-'))) {
    const left = join(root, 'dist', name);
    if (Date.now() - statSync(left).mtimeMs > hour) rmSync(left, { recursive: true, force: true });
  }
}

/** Makes the demo that tests look at where it is older than the build: once for all of them. @returns its folder, not to be written to */
export function demoMade() {
  built();
  const folder = join(root, 'dist/demo');
  const mark = join(folder, 'made-by');
  const stamp = readFileSync(join(root, 'dist/.stamp'), 'utf8');
  const isMade = () => existsSync(mark) && readFileSync(mark, 'utf8') === stamp;
  if (isMade()) return folder;
  removeLeftovers();
  // aside, and moved at the end: two who begin at once do not write over each other
  const aside = mkdtempSync(join(root, 'dist/demo-'));
  must(process.execPath, [join(root, 'dist/server/demo.cjs')], {
    env: {
      ...process.env,
      GRAVENEL_ROOT: root,
      GRAVENEL_DATA: aside,
      GRAVENEL_PORT: String(demoPort),
      GRAVENEL_ADDRESS: `http://127.0.0.1:${demoPort}`,
    },
  });
  writeFileSync(join(aside, 'made-by'), stamp);
  if (!isMade()) {
    rmSync(folder, { recursive: true, force: true });
    renameSync(aside, folder);
  } else rmSync(aside, { recursive: true, force: true });
  return folder;
}
