import { expect, test, type Page } from '@playwright/test';
import { accessible, goTo, openDesk, settled, signInPortal, type Running } from './helpers';

let running: Running;
let desk: Page;
let mara: Page;
test.beforeAll(async ({ browser }) => {
  ({ running, page: desk } = await openDesk(browser));
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  mara = await context.newPage();
  await signInPortal(mara, running.address);
  await expect(mara.getByRole('heading', { name: 'For you to do' })).toBeVisible();
});
test.afterAll(async () => {
  await running.stop();
});

const amount = (text: string | null) => Number((text ?? '').replace(/[^\d.-]/g, ''));

test('home says in one look what was earned and what comes, and the sums of its parts are those', async () => {
  await settled(mara);
  await accessible(mara, { colours: true });
  const earned = mara.getByRole('region', { name: 'Earned' });
  const due = amount(await earned.getByText('Coming to you').locator('+ p').textContent());
  const parts = await earned
    .getByRole('listitem')
    .filter({ hasText: /^(Held|In the next|On its way)/ })
    .allTextContents();
  expect(parts.length).toBeGreaterThan(1);
  const sum = parts.reduce((all, part) => all + amount(/€[\d.,]+$/.exec(part)![0]), 0);
  expect(Math.round(sum * 100)).toBe(Math.round(due * 100));
  // as the earnings say it
  await mara.getByRole('link', { name: 'Earnings' }).click();
  const sums = mara.getByRole('table', { name: 'Sums by state' });
  await expect(sums.getByRole('row', { name: /^Together/ })).toBeVisible();
  const waiting = await sums.getByRole('row', { name: /^(held|cleared|in run)/ }).allTextContents();
  const owed = waiting.reduce((all, row) => all + amount(/€[\d.,]+$/.exec(row)![0]), 0);
  expect(Math.round(owed * 100)).toBe(Math.round(due * 100));
  await mara.getByRole('link', { name: 'Home' }).click();
});

test('a link to a page of one’s choice is made with the keyboard alone, copied, and leads there', async () => {
  await settled(mara);
  const page = mara.getByLabel('Page', { exact: true });
  await page.focus();
  await mara.keyboard.type('https://elsewhere.example/x');
  await mara.keyboard.press('Enter');
  await expect(mara.getByText(/elsewhere\.example is not among the hosts/)).toBeVisible();
  await page.fill('https://shop.quernstone.example/firing-log');
  await mara.keyboard.press('Tab');
  await mara.keyboard.press('Tab');
  await expect(mara.getByRole('button', { name: 'Make the link' })).toBeFocused();
  await mara.keyboard.press('Enter');
  await expect(mara.getByText('Your link to the page is copied')).toBeVisible();
  const own = mara.getByRole('region', { name: 'Links to a page of your choice' });
  await expect(own.getByRole('listitem')).toHaveCount(1);
  await expect(page).toHaveValue('');
  const link = await mara.evaluate(() => navigator.clipboard.readText());
  const led = await mara.request.get(link, { maxRedirects: 0 });
  expect(led.headers().location).toMatch(/\/firing-log\?gvn=vis_/);
  await accessible(mara, { colours: true });
});

test('earnings are narrowed by state and days in the address, and come as a file', async () => {
  await goTo(mara, '/portal/earnings');
  await settled(mara);
  await accessible(mara, { colours: true });
  const sums = mara.getByRole('table', { name: 'Sums by state' });
  await sums.getByRole('button', { name: 'reversed' }).click();
  await expect(mara).toHaveURL(/state=reversed/);
  const list = mara.getByRole('region', { name: 'Earnings' });
  await expect(list.getByRole('row').filter({ hasText: 'cleared' })).toHaveCount(0);
  await expect(list.getByRole('row').filter({ hasText: 'reversed' }).first()).toBeVisible();
  const reversed = await list.getByRole('row').filter({ hasText: 'reversed' }).count();
  expect(reversed).toBeGreaterThan(0);
  const download = mara.waitForEvent('download');
  await mara.getByRole('link', { name: 'CSV' }).click();
  expect((await download).suggestedFilename()).toBe('earnings.csv');
  await mara.reload();
  await expect(list.getByRole('row').filter({ hasText: 'reversed' })).toHaveCount(reversed);
  await mara.getByRole('button', { name: 'Period' }).click();
  await mara.getByRole('menuitemradio', { name: 'of the last 7 days' }).click();
  await expect(mara.getByText('Nothing in these days')).toBeVisible();
});

test('resources of a product are put together by themselves', async () => {
  await goTo(mara, '/portal/resources');
  await settled(mara);
  await accessible(mara, { colours: true });
  await mara.getByRole('button', { name: 'Table-top wheel kit' }).click();
  await expect(mara.getByRole('region', { name: 'Creatives for Table-top wheel kit' })).toBeVisible();
  await expect(mara.getByRole('region', { name: 'Coupons for Table-top wheel kit' })).toContainText(
    'WHEEL10',
  );
  await expect(mara.getByText('How to show the wheel')).toBeVisible();
  await expect(mara.getByText('The course pays more')).toHaveCount(0);
  await accessible(mara, { colours: true });
  // the rate in a note is the reader's own
  await goTo(mara, '/portal/resources?product=THROW-V');
  await expect(mara.getByText('From today on you earn 30 % on the throwing course.')).toBeVisible();
});

test('details: a name is changed, what was typed outlives a reload, and other browsers are signed out', async ({
  browser,
}) => {
  const other = await (await browser.newContext()).newPage();
  await other.request.post(`${running.address}/api/v1/portal/session`, {
    data: { email: 'mara@loamletters.example', password: 'quernstone clay' },
    headers: { origin: running.address },
  });
  await goTo(mara, '/portal/details');
  await settled(mara);
  await accessible(mara, { colours: true });
  const about = mara.getByLabel('How you promote');
  await about.fill('A letter every Friday to 4,000 potters');
  await mara.reload();
  await expect(about).toHaveValue('A letter every Friday to 4,000 potters');
  await mara.getByRole('button', { name: 'Keep it' }).click();
  await expect(mara.getByText('Kept', { exact: true })).toBeVisible();
  await expect(mara.getByText('In another browser')).toHaveCount(1);
  await mara.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(mara.getByText('In another browser')).toHaveCount(0);
  expect((await other.request.get(`${running.address}/api/v1/portal/profile`)).status()).toBe(401);
  // the desk sees what was changed, and who did it
  await goTo(desk, '/affiliates?q=loam');
  await desk.getByRole('row', { name: /Loam Letters/ }).dblclick();
  await expect(desk.getByText('Own profile changed')).toBeVisible();
});

test('what a phone shows is all in its width, and staff see the same without acts', async () => {
  await mara.setViewportSize({ width: 360, height: 740 });
  for (const page of ['/resources?product=WHEEL-1', '/figures']) {
    await goTo(mara, `/portal${page}`);
    await settled(mara);
    expect([page, await mara.evaluate(() => document.documentElement.scrollWidth)]).toEqual([page, 360]);
    await accessible(mara, { colours: true });
  }
  await mara.setViewportSize({ width: 1280, height: 800 });
  const seen = await desk.request.get(`${running.address}/api/v1/affiliates?q=loam`);
  const { rows } = (await seen.json()) as { rows: { id: string }[] };
  await goTo(desk, `/as/${rows[0]!.id}`);
  await expect(desk.getByRole('heading', { name: 'For you to do' })).toBeVisible();
  await expect(desk.getByRole('button', { name: 'Make the link' })).toHaveCount(0);
  await goTo(desk, `/as/${rows[0]!.id}/details`);
  await settled(desk);
  await expect(desk.getByRole('button', { name: 'Keep it' })).toHaveCount(0);
  await expect(desk.getByRole('heading', { name: 'Signed in' })).toHaveCount(0);
});
