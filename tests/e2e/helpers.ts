import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Browser, type Locator, type Page } from '@playwright/test';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';
import { copyDemo, serverSettings } from './demo';
import { settled, watched } from './settled';

export { settled };

export interface Running {
  address: string;
  standins: string;
  registry: string;
  stop: () => Promise<void>;
}

/** One port for all servers of this worker, one after the other. */
let port: Promise<number> | undefined;

/** A built Gravenel in a process of its own, on a fresh folder: empty, or with the demo. */
export async function run(kind: 'empty' | 'demo'): Promise<Running> {
  built();
  const data = mkdtempSync(join(tmpdir(), 'gravenel-e2e-'));
  const ownPort = await (port ??= freePorts());
  if (kind === 'demo') copyDemo(data, ownPort);
  const server: ChildProcess = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    cwd: root,
    env: serverSettings(data, ownPort, kind),
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  await new Promise<void>((resolve, reject) => {
    server.once('message', () => resolve());
    server.once('exit', (code) => reject(new Error(`The server ended with ${code}`)));
  });
  return {
    address: `http://127.0.0.1:${ownPort}`,
    standins: `http://127.0.0.1:${ownPort + 1}`,
    registry: `http://127.0.0.1:${ownPort + 2}`,
    stop: async () => {
      await new Promise<void>((resolve) => {
        server.once('exit', () => resolve());
        server.kill('SIGTERM');
      });
      rmSync(data, { recursive: true, force: true });
    },
  };
}

const demoPassword = 'quernstone clay';

/** Somebody of the demo's staff at the desk, by its form: for those who look at the form. */
export async function signInByForm(page: Page, address: string, email: string): Promise<void> {
  await page.goto(address);
  await page.getByLabel('E-mail address').fill(email);
  await page.getByLabel('Password').fill(demoPassword);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** The session that the form would have begun, without drawing it and what comes after it. */
async function beginSession(page: Page, address: string, email: string, call: string): Promise<void> {
  watched(page);
  const answer = await page.request.post(`${address}/api/v1/${call}`, {
    data: { email, password: demoPassword },
  });
  expect(answer.status(), await answer.text()).toBe(200);
}

/** Somebody of the demo's staff at the desk. @param path what is opened first */
export async function signIn(page: Page, address: string, email: string, path = '/'): Promise<void> {
  await beginSession(page, address, email, 'session');
  await page.goto(address + path);
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** An affiliate of the demo in its portal. */
export async function signInPortal(page: Page, address: string): Promise<void> {
  await beginSession(page, address, 'mara@loamletters.example', 'portal/session');
  await page.goto(`${address}/portal`);
  await expect(page.getByRole('heading', { name: 'For you to do' })).toBeVisible();
}

/** To another view without the page beginning anew, as a link leads there. @param path with its search */
export async function goTo(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    window.history.pushState(null, '', to);
    window.dispatchEvent(new PopStateEvent('popstate'));
  }, path);
}

/** The demo, and its owner at the desk. */
export async function openDesk(browser: Browser): Promise<{ running: Running; page: Page }> {
  const running = await run('demo');
  const page = await (await browser.newContext()).newPage();
  await signIn(page, running.address, 'ines@quernstone.example');
  return { running, page };
}

/** Looks at a page again and again until it shows as many of something as it should: what comes from outside takes its time. */
export async function untilShown(page: Page, address: string, what: Locator, count: number): Promise<void> {
  await expect
    .poll(
      async () => {
        await page.goto(address);
        await settled(page);
        return what.count();
      },
      { timeout: 30_000 },
    )
    .toBe(count);
}

/**
 * No serious or critical fault of accessibility on the page as it stands.
 * @param colours whether contrast is looked at as well: it takes as long as all else, and colours are those of the kit, which the gallery shows
 */
export async function accessible(page: Page, { colours = false } = {}): Promise<void> {
  // what is fading in or out has no contrast yet: let it arrive first
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter((a) => a.effect?.getComputedTiming().iterations !== Infinity)
        .map((a) => a.finished.catch(() => null)),
    ),
  );
  // in the page alone, which has no frames, instead of by way of a second one
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode(true)
    // what is right need not be told of
    .options({ resultTypes: ['violations'], rules: { 'color-contrast': { enabled: colours } } })
    .analyze();
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

/** A picture of the page as it stands for docs/screenshots: made on purpose alone, so that a test run leaves the work tree as it is. */
export async function picture(page: Page, name: string): Promise<void> {
  if (!process.env.GRAVENEL_PICTURES) return;
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
}

/** Opens a choice and picks one by its words. */
export async function pick(choice: Locator, words: string): Promise<void> {
  await choice.click();
  await choice.page().getByRole('option', { name: words, exact: true }).click();
}

/** Moves the demo’s day on, as its menu does. */
export async function moveClock(page: Page, by: string): Promise<void> {
  await page.getByRole('button', { name: /Demo day/ }).click();
  await page.getByRole('menuitem', { name: `Move on by a ${by}` }).click();
  await expect(page.getByText(/^It is /).last()).toBeVisible();
}
