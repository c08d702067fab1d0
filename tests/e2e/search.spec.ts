import { expect, test, type Page } from '@playwright/test';
import { goTo, openDesk, signInPortal, type Running } from './helpers';

let running: Running;
let page: Page;
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => {
  ({ running, page } = await openDesk(browser));
});
test.afterAll(async () => {
  await running.stop();
});

const lists = [
  '/sales',
  '/affiliates',
  '/applications',
  '/prospects',
  '/creatives',
  '/coupons',
  '/connection',
];

/** Longer than the field waits before it writes: a field that writes its old text back has done so by then. */
const pause = (on: Page) => on.waitForTimeout(500);

async function follows(on: Page, path: string): Promise<void> {
  const field = on.getByRole('searchbox');
  const q = () => new URL(on.url()).searchParams.get('q');
  await goTo(on, `${path}?q=glaze`);
  await expect(field).toHaveValue('glaze');
  // a link, the palette: another search of the same list
  await goTo(on, `${path}?q=wheel`);
  await pause(on);
  expect(q()).toBe('wheel');
  await expect(field).toHaveValue('wheel');
  await on.goBack();
  await pause(on);
  expect(q()).toBe('glaze');
  await expect(field).toHaveValue('glaze');
  await on.goForward();
  await pause(on);
  expect(q()).toBe('wheel');
  await expect(field).toHaveValue('wheel');
  // typing reaches the address, and takes no entry of its own in the history
  await field.fill('kiln');
  await expect.poll(q).toBe('kiln');
  await expect(field).toHaveValue('kiln');
  await goTo(on, path);
  await pause(on);
  expect(q()).toBeNull();
  await expect(field).toHaveValue('');
  // what was typed a moment ago gives way to a link
  await field.fill('half typ');
  await goTo(on, `${path}?q=loam`);
  await pause(on);
  expect(q()).toBe('loam');
  await expect(field).toHaveValue('loam');
  // keys that come while the address changes are kept
  await field.fill('');
  await field.pressSequentially('clay and more', { delay: 90 });
  await expect.poll(q).toBe('clay and more');
  await expect(field).toHaveValue('clay and more');
}

for (const path of lists)
  test(`the search of ${path} follows the address`, async () => {
    await follows(page, path);
  });

test('the search of the portal’s creatives follows the address', async ({ browser }) => {
  const portal = await (await browser.newContext()).newPage();
  await signInPortal(portal, running.address);
  await follows(portal, '/portal/creatives');
});
