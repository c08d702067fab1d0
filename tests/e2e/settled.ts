import { expect, type Page, type Request } from '@playwright/test';

/** What a page waits for, and how often it has asked for something. */
interface Asking {
  open: Set<Request>;
  begun: number;
}

const asking = new WeakMap<Page, Asking>();

/** Counts what a page asks for from now on: before it opens its first address, so that nothing is missed. */
export function watched(page: Page): Asking {
  const known = asking.get(page);
  if (known) return known;
  const now: Asking = { open: new Set(), begun: 0 };
  asking.set(page, now);
  page.on('request', (request) => {
    now.open.add(request);
    now.begun += 1;
  });
  const ended = (request: Request) => {
    now.open.delete(request);
  };
  page.on('requestfinished', ended);
  page.on('requestfailed', ended);
  return now;
}

/** Time for the page to draw what came and to ask for what that needs: measured by the page itself, which on a busy machine is as late as the rest of it. */
const drawn = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<void>((done) => {
        setTimeout(() => requestAnimationFrame(() => setTimeout(done, 30)), 70);
      }),
  );

/** What the page has asked for is there and drawn. */
export async function settled(page: Page): Promise<void> {
  const missed = !asking.has(page);
  const now = watched(page);
  if (missed) await page.waitForLoadState('networkidle');
  await page.waitForLoadState('load');
  await expect
    .poll(
      async () => {
        const { begun } = now;
        await drawn(page);
        return now.open.size + now.begun - begun;
      },
      { intervals: [0], timeout: 30_000, message: 'what the page has asked for is there' },
    )
    .toBe(0);
  await expect(page.locator('.skeleton')).toHaveCount(0);
}
