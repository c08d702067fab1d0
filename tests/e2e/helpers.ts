import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Browser, type Page } from '@playwright/test';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';

export interface Running {
  address: string;
  standins: string;
  registry: string;
  stop: () => Promise<void>;
}

/** A built Gravenel in a process of its own, on a fresh folder: empty, or with the demo. */
export async function run(kind: 'empty' | 'demo'): Promise<Running> {
  built();
  const data = mkdtempSync(join(tmpdir(), 'gravenel-e2e-'));
  const port = await freePorts();
  const env = {
    ...process.env,
    GRAVENEL_ROOT: root,
    GRAVENEL_DATA: data,
    GRAVENEL_PORT: String(port),
    GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
    GRAVENEL_UNDO_SECONDS: kind === 'empty' ? '0' : '10',
  };
  if (
    kind === 'demo' &&
    spawnSync(process.execPath, [join(root, 'dist/server/demo.cjs')], { env, stdio: 'inherit' }).status !== 0
  )
    throw new Error('The demo data could not be made');
  const server: ChildProcess = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    cwd: root,
    env,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  await new Promise<void>((resolve, reject) => {
    server.once('message', () => resolve());
    server.once('exit', (code) => reject(new Error(`The server ended with ${code}`)));
  });
  return {
    address: `http://127.0.0.1:${port}`,
    standins: `http://127.0.0.1:${port + 1}`,
    registry: `http://127.0.0.1:${port + 2}`,
    stop: async () => {
      await new Promise<void>((resolve) => {
        server.once('exit', () => resolve());
        server.kill('SIGTERM');
      });
      rmSync(data, { recursive: true, force: true });
    },
  };
}

export async function signIn(
  page: Page,
  address: string,
  email: string,
  password = 'quernstone clay',
): Promise<void> {
  await page.goto(address);
  await page.getByLabel('E-mail address').fill(email);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** The demo, and its owner at the desk. */
export async function openDesk(browser: Browser): Promise<{ running: Running; page: Page }> {
  const running = await run('demo');
  const page = await (await browser.newContext()).newPage();
  await signIn(page, running.address, 'ines@quernstone.example');
  return { running, page };
}

/** No serious or critical fault of accessibility on the page as it stands. */
export async function accessible(page: Page): Promise<void> {
  // what is fading in or out has no contrast yet: let it arrive first
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter((a) => a.effect?.getComputedTiming().iterations !== Infinity)
        .map((a) => a.finished.catch(() => null)),
    ),
  );
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical');
  expect(
    serious.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => n.target.join(' '))
          .join(' | ')} ${v.nodes[0]?.failureSummary ?? ''}`,
    ),
  ).toEqual([]);
}

/** A picture of the page as it stands; kept in docs/screenshots when the name is asked for, else beside the test's files. */
export async function picture(page: Page, name: string): Promise<void> {
  // screenshots of the documentation are made on purpose, so that a test run leaves the work tree alone
  const folder = process.env.GRAVENEL_PICTURES
    ? join(root, 'docs/screenshots')
    : join(root, 'test-results/pictures');
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: join(folder, `${name}.png`) });
}
