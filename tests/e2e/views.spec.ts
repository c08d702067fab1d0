import { expect, test, type Page } from '@playwright/test';
import { accessible, goTo, picture, run, settled, signIn, signInPortal, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

const views: [path: string, sign: string, name: string][] = [
  ['/', 'Owed in all', 'today'],
  ['/products', 'THROW-V', 'products'],
  ['/applications', 'Slipstream Studio Radio', 'applications'],
  ['/affiliates', 'Beach Clay Notes', 'affiliates'],
  ['/sales', 'Throwing course', 'sales'],
  ['/connection', 'Connected twice.', ''],
  ['/ledger', 'Debits and credits are equal', 'ledger'],
  ['/payouts', 'Lena Brandvold', ''],
  ['/coupons', 'TEACHER20', ''],
  ['/settings', 'Programme commission', ''],
  ['/settings?part=history', 'Commission changed', ''],
];

async function showsSale(page: Page): Promise<void> {
  await goTo(page, '/sales?q=Q-4');
  await page.getByRole('row', { name: /held/ }).first().click();
  await expect(page.getByText('Left of the commission').or(page.getByText('In the journal'))).toBeVisible();
  await accessible(page, { colours: true });
}

async function showsProduct(page: Page): Promise<void> {
  await goTo(page, '/products');
  await page.getByText('Throwing course').click();
  await expect(page.getByText('Left to you, before cost').first()).toBeVisible();
  await accessible(page, { colours: true });
  await picture(page, 'product');
}

async function showsAffiliate(page: Page): Promise<void> {
  await goTo(page, '/affiliates?q=Loam+L');
  await page.getByText('Loam Letters').click();
  await expect(page.getByText('Terms in force')).toBeVisible();
  await accessible(page, { colours: true });
  await picture(page, 'affiliate');
}

async function showsRun(page: Page): Promise<void> {
  await goTo(page, '/payouts');
  await page.getByRole('cell', { name: '6', exact: true }).first().click();
  await expect(page.getByText('the account is closed (AC04)')).toBeVisible();
  await accessible(page, { colours: true });
  await picture(page, 'payout-run');
  const payees = page.getByRole('region', { name: 'Payees' });
  await page.getByRole('button', { name: 'State of payments' }).click();
  await page.getByRole('menuitemradio', { name: 'those that are failed' }).click();
  await expect(payees.getByRole('row').filter({ hasText: 'settled' })).toHaveCount(0);
  await expect(payees.getByText('the account is closed (AC04)')).toBeVisible();
  await page.getByLabel('Find a payee').fill('nobody of this name');
  await expect(payees.getByText('Nothing in this run fits what is asked for.')).toBeVisible();
  await page.getByLabel('Find a payee').fill('');
  await expect(payees.getByText('the account is closed (AC04)')).toBeVisible();
}

async function leavesOutAndTakesIn(page: Page): Promise<void> {
  await goTo(page, '/payouts');
  await expect(page.getByRole('heading', { name: 'Payouts', exact: true })).toBeVisible();
  await page.keyboard.press('n');
  // a day that is over: what clears while the test runs does not come into it
  await page.getByRole('dialog').getByLabel('Cut-off day').fill('11 mar 2027');
  await page.getByRole('button', { name: 'Draft', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Payees' }).getByText('proposed').first()).toBeVisible();
  const left = page.getByRole('region', { name: 'Left out' });
  await expect(left.getByRole('button', { name: /below the minimum/ })).toBeVisible();
  const sums = await page
    .getByRole('heading', { name: /Payout run/ })
    .locator('..')
    .innerText();
  await page.keyboard.press('j');
  await page.keyboard.press('x');
  await left.getByRole('button', { name: '1 left out by a person' }).click();
  await expect(
    left.getByRole('listitem').filter({ hasText: 'left out by a person · take in again' }),
  ).toHaveCount(1);
  await left.getByRole('button', { name: 'take in again' }).click();
  // the reason is gone with the last it was for: all are shown again, and the sums are as before
  await expect(left.getByText('left out by a person')).toHaveCount(0);
  await expect(left.getByText('no valid payout details').first()).toBeVisible();
  expect(
    await page
      .getByRole('heading', { name: /Payout run/ })
      .locator('..')
      .innerText(),
  ).toBe(sums);
  await page.getByRole('button', { name: 'Discard', exact: true }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Discard run/ })
    .click();
  await expect(page.getByRole('heading', { name: 'Payouts', exact: true })).toBeVisible();
}

test('every main view shows the demo, without a serious fault of accessibility', async ({ page }) => {
  const faults: string[] = [];
  page.on('pageerror', (e) => faults.push(e.message));
  page.on('console', (m) => {
    if (m.type() === 'error') faults.push(m.text());
  });
  await signIn(page, running.address, 'ines@quernstone.example');
  for (const [path, sign, name] of views) {
    await test.step(path, async () => {
      await goTo(page, path);
      await expect(page.getByText(sign).first()).toBeVisible();
      await settled(page);
      await accessible(page, { colours: true });
      if (name) await picture(page, name);
    });
  }
  await test.step('a sale with its working', () => showsSale(page));
  await test.step('a product', () => showsProduct(page));
  await test.step('an affiliate', () => showsAffiliate(page));
  await test.step('a payout run', () => showsRun(page));
  await test.step('somebody is left out of a draft by keys, found by the reason, and taken in again', () =>
    leavesOutAndTakesIn(page));
  expect(faults).toEqual([]);
});

test('the portal and the join page, on a phone as well', async ({ page }) => {
  await signInPortal(page, running.address);
  await expect(page.getByText('Your tracking links')).toBeVisible();
  await accessible(page, { colours: true });
  await picture(page, 'portal');
  await goTo(page, '/portal/creatives');
  await expect(page.getByText('The wheel, turning')).toBeVisible();
  await settled(page);
  await picture(page, 'portal-creatives');
  for (const path of [
    '/portal',
    '/portal/resources',
    '/portal/policy',
    '/portal/earnings',
    '/portal/payouts',
    '/portal/details',
    '/join',
    '/policy-for-affiliates',
  ]) {
    await page.setViewportSize({ width: 360, height: 740 });
    await goTo(page, path);
    await settled(page);
    const wider = await page.evaluate(
      () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
    );
    expect(wider, `${path} is wider than a phone`).toBeLessThanOrEqual(0);
    await accessible(page, { colours: true });
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  await goTo(page, '/join');
  await expect(page.getByRole('button', { name: 'Apply' })).toBeVisible();
  await accessible(page, { colours: true });
  await picture(page, 'join');
});
