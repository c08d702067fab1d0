import { expect, test, type Page } from '@playwright/test';
import { accessible, pick, run, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('empty');
});
test.afterAll(async () => {
  await running.stop();
});

async function setsUp(merchant: Page, { address }: { address: string }): Promise<void> {
  await merchant.goto(address);
  await expect(merchant.getByRole('heading', { name: 'Set up your programme' })).toBeVisible();
  await merchant.getByLabel('Merchant name').fill('Quernstone Clayworks');
  await merchant.getByRole('button', { name: 'Set up' }).click();
  await expect(merchant.getByText('Contact address is empty')).toBeVisible();
  await merchant.getByLabel('Contact address').fill('hello@quernstone.example');
  await pick(merchant.getByLabel('Time zone'), 'Europe/Lisbon');
  await merchant.getByLabel('Your name').fill('Inês Falcão');
  await merchant.getByLabel('Your e-mail address').fill('ines@quernstone.example');
  await merchant.getByLabel('Password').fill('short');
  await merchant.getByRole('button', { name: 'Set up' }).click();
  await expect(merchant.getByText('Password is too short: at least 12 characters')).toBeVisible();
  await merchant.getByLabel('Password').fill('clay on the wheel at dawn');
  await accessible(merchant);
  await merchant.getByRole('button', { name: 'Set up' }).click();
  await expect(merchant.getByText('Put a first product live')).toBeVisible();
}

async function putsProductLive(merchant: Page, { standins }: { standins: string }): Promise<void> {
  await merchant.getByText('Put a first product live').click();
  await merchant.getByRole('button', { name: 'New product', exact: false }).first().click();
  await merchant.getByLabel('Name', { exact: true }).fill('Table-top wheel kit');
  await expect(merchant.getByLabel('Code')).toHaveValue('TABLE-TOP-WHEEL');
  await merchant.getByLabel('Code').fill('WHEEL-1');
  await merchant.getByLabel('Description').fill('A wheel, a splash pan and a bat.');
  await merchant.getByLabel('Price', { exact: true }).fill('199.005');
  await merchant.getByLabel('Percent').fill('12');
  await merchant.getByLabel('Sales page').fill(`${standins}/p/WHEEL-1`);
  await merchant.getByRole('button', { name: 'Create the draft' }).click();
  await expect(merchant.getByText('EUR has at most 2 decimals')).toBeVisible();
  await merchant.getByLabel('Price', { exact: true }).fill('199.00');
  await expect(merchant.getByRole('complementary', { name: 'Margin' })).toContainText('€166.36');
  await merchant.getByRole('button', { name: 'Create the draft' }).click();
  await merchant.getByRole('button', { name: 'Put live' }).click();
  await merchant.getByRole('dialog').getByRole('button', { name: 'Put live' }).click();
  await expect(merchant.getByText('live', { exact: true })).toBeVisible();
}

async function connectsShop(merchant: Page, shop: Page, { standins }: { standins: string }): Promise<void> {
  await merchant.getByRole('link', { name: /^Connection/ }).click();
  await merchant.getByRole('button', { name: 'Make a key' }).click();
  const dialog = merchant.getByRole('dialog');
  await expect(dialog.locator('.font-mono')).toHaveCount(2);
  const [key, secret] = await dialog.locator('.font-mono').allTextContents();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await shop.goto(`${standins}/switches`);
  await shop.getByLabel('Key').fill(key!);
  await shop.getByLabel('Secret').fill(secret!);
  await shop.getByRole('button', { name: 'Keep' }).click();
  await shop.goto(standins);
  await shop.getByLabel('Code').fill('WHEEL-1');
  await shop.getByLabel('Name', { exact: true }).fill('Table-top wheel kit');
  await shop.getByLabel('Price', { exact: true }).fill('199.00');
  await shop.getByRole('button', { name: 'Put on the shelf' }).click();
  await merchant.getByRole('link', { name: 'Settings' }).click();
  await merchant.getByRole('tab', { name: 'Money' }).click();
  await merchant.getByLabel('IBAN').fill('PT50 0002 0123 1234 5678 9015 5');
  await merchant.getByRole('button', { name: 'Save' }).click();
  await expect(merchant.getByText(/the check digits do not fit/)).toBeVisible();
  await merchant.getByLabel('IBAN').fill('PT50 0002 0123 1234 5678 9015 4');
  await merchant.getByRole('button', { name: 'Save' }).click();
  await expect(merchant.getByText('Saved')).toBeVisible();
}

async function applies(mara: Page, { address }: { address: string }): Promise<void> {
  await mara.goto(`${address}/join/WHEEL-1`);
  await expect(mara.getByText('you earn 12 %')).toBeVisible();
  await mara.getByLabel('Name', { exact: true }).fill('Loam Letters');
  await mara.getByLabel('E-mail address').fill('mara@loamletters');
  await pick(mara.getByLabel('Country'), 'Portugal');
  await mara.getByLabel('Your sites').fill('loamletters.example');
  await mara.getByLabel('Note').fill('A letter a week for people who throw pots at home.');
  await mara.getByRole('button', { name: 'Apply' }).click();
  await expect(mara.getByText(/is not an e-mail address/)).toBeVisible();
  await expect(mara.getByLabel('Note')).toHaveValue(/A letter a week/);
  await mara.getByLabel('E-mail address').fill('mara@loamletters.example');
  await accessible(mara);
  await mara.getByRole('button', { name: 'Apply' }).click();
  await expect(mara.getByText('Thank you')).toBeVisible();
}

async function isApproved(merchant: Page): Promise<void> {
  await merchant.getByRole('link', { name: /^Applications/ }).click();
  await expect(merchant.getByRole('heading', { name: 'Loam Letters' })).toBeVisible();
  await merchant.keyboard.press('a');
  await expect(merchant.getByText('Nobody is waiting')).toBeVisible();
}

async function entersPayoutDetails(mara: Page, { standins }: { standins: string }): Promise<string> {
  await expect(async () => {
    await mara.goto(`${standins}/mailroom?to=mara`);
    await mara.getByRole('link', { name: 'Welcome to Quernstone Clayworks' }).click({ timeout: 1000 });
  }).toPass({ timeout: 15_000 });
  await mara.getByRole('link', { name: /portal\/password/ }).click();
  await mara.getByLabel('Choose a password').fill('letters from the kiln');
  await mara.getByRole('button', { name: 'Set it and go in' }).click();
  await expect(mara.getByText('Your tracking links')).toBeVisible();
  const copy = mara.getByRole('button', { name: /^Copy .*\/go\// });
  const link = (await copy.getAttribute('aria-label'))!.replace('Copy ', '');
  await accessible(mara);
  await mara.getByRole('link', { name: 'enter your payout details' }).click();
  await mara.getByLabel('Account holder').fill('Mara Lindqvist-Okello');
  await mara.getByLabel('IBAN').fill('GB33 BUKB 2020 1555 5555 56');
  await mara.getByLabel('Address', { exact: true }).fill('Rua do Forno 4, Barrancos');
  await mara.getByLabel('Your password').fill('letters from the kiln');
  await mara.getByRole('button', { name: 'Keep them' }).click();
  await expect(mara.getByText(/check digits do not fit/)).toBeVisible();
  await mara.getByLabel('IBAN').fill('GB33 BUKB 2020 1555 5555 55');
  await mara.getByRole('button', { name: 'Keep them' }).click();
  await expect(mara.getByText('Your payout details are kept')).toBeVisible();
  return link;
}

async function buys(shop: Page, { standins, link }: { standins: string; link: string }): Promise<void> {
  await shop.goto(link);
  await expect(shop).toHaveURL(/gvn=vis_/);
  await expect(shop.getByRole('heading', { name: 'Table-top wheel kit' })).toBeVisible();
  // the visit is remembered by the snippet, not only by the address of the landing page
  await shop.goto(`${standins}/p/WHEEL-1`);
  await expect(shop.locator('input[name=gvn]')).toHaveValue(/^vis_/);
  await shop.getByRole('button', { name: 'Buy' }).click();
  await shop.getByLabel('Card').selectOption({ index: 1 });
  await shop.getByRole('button', { name: 'Pay' }).click();
  await expect(shop.getByText('The card was refused')).toBeVisible();
  await shop.getByLabel('Card').selectOption({ index: 0 });
  await shop.getByRole('button', { name: 'Pay' }).click();
  await expect(shop.getByText('"outcome":"recorded"')).toBeVisible();
  await shop.getByLabel('Amount, empty for the whole').fill('49.00');
  await shop.getByRole('button', { name: 'Give back' }).click();
  await expect(shop.getByText('R-Q-10001-1')).toBeVisible();
}

async function seesCommission(mara: Page): Promise<void> {
  await mara.getByRole('link', { name: 'Earnings' }).click();
  const earnings = mara.getByRole('region', { name: 'Earnings' });
  await expect(earnings.getByText('€18.00')).toBeVisible();
  await mara.getByRole('button', { name: 'how it came about' }).click();
  await expect(mara.getByRole('dialog')).toContainText('× 12 %, rounded');
  await expect(mara.getByRole('dialog')).toContainText('Left of the commission€18.00');
  await accessible(mara);
  await mara.keyboard.press('Escape');
}

async function clears(merchant: Page): Promise<void> {
  await merchant.getByRole('button', { name: /Demo day/ }).click();
  await merchant.getByRole('menuitem', { name: 'Move on by a month' }).click();
  await expect(merchant.getByText('1 commission cleared')).toBeVisible();
}

async function isPaid(merchant: Page, shop: Page, { standins }: { standins: string }): Promise<void> {
  await merchant.getByRole('link', { name: /^Payouts/ }).click();
  await expect(merchant.getByRole('heading', { name: 'Payouts', exact: true })).toBeVisible();
  await merchant.keyboard.press('n');
  await merchant.getByLabel('Minimum').fill('10.00');
  await merchant.getByRole('button', { name: 'Draft', exact: true }).click();
  await expect(merchant.getByRole('heading', { name: 'Payout run 1' })).toBeVisible();
  await merchant.keyboard.press('a');
  await expect(merchant.getByRole('dialog')).toContainText('Approve 1 payment, €18.00');
  await merchant.getByRole('dialog').getByRole('button', { name: 'Approve 1 payment, €18.00' }).click();
  await expect(merchant.getByRole('region', { name: 'Payees' }).getByText('approved')).toBeVisible();
  await merchant.keyboard.press('s');
  await merchant.getByRole('dialog').getByRole('button', { name: 'Send 1 payment, €18.00' }).click();
  await merchant.getByRole('button', { name: 'Hand to the bank' }).click();
  await expect(merchant.getByText('With the bank since')).toBeVisible();
  await accessible(merchant);
  await shop.goto(`${standins}/bank`);
  await shop.getByRole('button', { name: 'Answer this file' }).click();
  await merchant.getByRole('button', { name: 'Ask the bank' }).click();
  await expect(merchant.getByText('1 line read: 1 settled')).toBeVisible();
  await expect(merchant.getByText('Every payment of this run is final.')).toBeVisible();
}

async function seesPayment(mara: Page): Promise<void> {
  await mara.getByRole('link', { name: 'Payouts' }).click();
  await expect(mara.getByText('paid', { exact: true })).toBeVisible();
  await expect(mara.getByRole('cell', { name: '€18.00' })).toBeVisible();
  const [download] = await Promise.all([
    mara.waitForEvent('download'),
    mara.getByRole('link', { name: 'statement' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('statement-1-loam-letters.csv');
}

test('from an empty data folder to a paid affiliate, with nothing but the interface and the stand-ins', async ({
  browser,
}) => {
  const { address, standins } = running;
  const merchant = await (await browser.newContext()).newPage();
  const faults: string[] = [];
  for (const page of [merchant]) page.on('pageerror', (e) => faults.push(e.message));

  await test.step('set up', () => setsUp(merchant, { address }));

  await test.step('a product with its commission', () => putsProductLive(merchant, { standins }));

  const shop = await (await browser.newContext()).newPage();
  await test.step('connect the shop', () => connectsShop(merchant, shop, { standins }));

  const mara = await (await browser.newContext()).newPage();
  await test.step('an affiliate applies', () => applies(mara, { address }));

  await test.step('is approved, by one key', () => isApproved(merchant));

  const link = await test.step('sets a password with the link in the message and enters payout details', () =>
    entersPayoutDetails(mara, { standins }));

  await test.step('a buyer follows the link and buys; a refused card charges nothing', () =>
    buys(shop, { standins, link }));

  await test.step('the commission is held, with its working', () => seesCommission(mara));

  await test.step('it clears on its date', () => clears(merchant));

  await test.step('and is paid in a payout run', () => isPaid(merchant, shop, { standins }));

  await test.step('the affiliate sees it paid', () => seesPayment(mara));
  expect(faults).toEqual([]);
});
