import { expect, test, type Page } from '@playwright/test';
import { accessible, goTo, openDesk, pick, picture, type Running } from './helpers';

let running: Running;
let page: Page;
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => {
  ({ running, page } = await openDesk(browser));
});
test.afterAll(async () => {
  await running.stop();
});

const margin = () => page.getByRole('complementary', { name: 'Margin' });
const dialog = () => page.getByRole('dialog');
const openProduct = async (name: string) => {
  await goTo(page, '/products');
  await page.getByText(name).first().click();
  await expect(margin().getByText('One sale').first()).toBeVisible();
};

test('somebody new gets a share of a product, by keys alone, and the margin of a sale shows it', async () => {
  await openProduct('Split apron');
  await expect(margin().getByText('Co-owner shares')).toHaveCount(0);
  await margin().getByRole('button', { name: 'add', exact: true }).focus();
  await page.keyboard.press('Enter');
  await dialog().getByRole('button', { name: 'somebody new' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Tove Linnegard');
  await page.keyboard.press('Tab');
  await page.keyboard.type('tove@linnegard.example');
  await page.keyboard.press('Tab');
  await page.keyboard.type('se');
  // by its code, though three countries begin with these letters
  await expect(page.getByRole('option').first()).toHaveText('Sweden');
  await page.keyboard.press('Enter');
  await expect(dialog().getByLabel('Country')).toHaveText('Sweden');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(dialog().getByLabel('Percent of Tove Linnegard')).toBeFocused();
  await page.keyboard.type('120');
  await page.keyboard.press('Enter');
  await expect(dialog().getByRole('alert')).toContainText('more than 100 % of a sale cannot be paid');
  await dialog().getByLabel('Percent of Tove Linnegard').fill('40');
  await expect(dialog().getByText('Together 40 %, 60 % to you')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Split apron: co-owners changed from now on')).toBeVisible();
  await expect(margin().getByText('Co-owner shares')).toBeVisible();
  await accessible(page);
});

test('who brought an affiliate in is set with before and after, and bad shares are said in place', async () => {
  await goTo(page, '/affiliates?q=Raku');
  await page.getByText('Raku Nights').click();
  await page.getByRole('button', { name: 'change who brought this affiliate in' }).click();
  await dialog().getByRole('button', { name: 'Who brought this affiliate in' }).click();
  await page.keyboard.type('Wheelhouse');
  await page.getByRole('option', { name: /Wheelhouse Talks/ }).click();
  await dialog().getByLabel('Percent', { exact: true }).fill('95');
  await pick(dialog().getByRole('combobox'), 'the sale');
  await dialog().getByRole('button', { name: 'Change from now on' }).click();
  await expect(dialog().getByRole('alert')).toContainText('could come to');
  await dialog().getByLabel('Percent', { exact: true }).fill('10');
  await pick(dialog().getByRole('combobox'), 'the commission');
  await expect(dialog().getByText('Wheelhouse Talks: 10 % of the commission, 24 months')).toBeVisible();
  await dialog().getByRole('button', { name: 'Change from now on' }).click();
  await expect(page.getByText('who gets 10 % of the commission until')).toBeVisible();
  await accessible(page);
});

test('a sale shows who else has a part of it, and of what', async () => {
  await goTo(page, '/affiliates?q=Bisque');
  await page.getByText('Bisque & Bramble').click();
  await page
    .getByRole('row', { name: /Throwing course/ })
    .last()
    .click();
  const sheet = page.getByRole('complementary', { name: 'Sale' });
  await sheet.getByText('co-owner share').click();
  await expect(sheet.getByText('25 % of what commission and referral share leave')).toBeVisible();
  await sheet.getByText('referral share', { exact: true }).click();
  await expect(sheet.getByText('10 % of the commission')).toBeVisible();
  await accessible(page);
  await picture(page, 'sale');
});

test('a picture and a file are uploaded, and what is no picture is refused', async () => {
  await openProduct('Studio planner');
  await margin()
    .getByLabel('upload one')
    .setInputFiles({ name: 'planner.png', mimeType: 'image/png', buffer: Buffer.from('<svg/>') });
  await expect(margin().getByRole('alert')).toContainText(
    'planner.png is no picture in JPEG, PNG, GIF or WebP',
  );
  const png = await page.screenshot({ clip: { x: 0, y: 0, width: 200, height: 200 } });
  await margin()
    .getByLabel('upload one')
    .setInputFiles({ name: 'planner.png', mimeType: 'image/png', buffer: png });
  await expect(page.getByText('The picture is kept')).toBeVisible();
  await expect(margin().getByRole('button', { name: 'remove' })).toBeVisible();
  await pick(page.getByLabel('Delivery'), 'A file to download');
  await page.getByLabel('choose a file, or drop it here').setInputFiles({
    name: 'planner 2027.pdf',
    mimeType: 'application/pdf',
    buffer: Buffer.from('%PDF made up'),
  });
  await expect(page.getByText('planner 2027.pdf, 1 KB')).toBeVisible();
  // what was typed before the upload is still there
  await expect(page.getByLabel('Delivery')).toHaveText('A file to download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
});

test('what buyers read is previewed while it is typed', async () => {
  await goTo(page, '/settings?part=buyers');
  const places = page.getByRole('region', { name: 'Where buyers read it' });
  await page.getByLabel('Name that buyers read').fill('Quernstone Pots');
  await page.getByLabel('Support telephone').fill('');
  await expect(places.getByText('Quernstone Pots').first()).toBeVisible();
  await expect(places.getByText('+351')).toHaveCount(0);
  await page.getByLabel('Support address').fill('nobody');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/Support address is not/)).toBeVisible();
  await page.getByLabel('Support address').fill('pots@quernstone.example');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await accessible(page);
});

test('an affiliate brings somebody in by its own address, and reads its share with its working', async ({
  browser,
}) => {
  const portal = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await portal.goto(`${running.address}/portal`);
  await portal.getByLabel('E-mail address').fill('post@kilndiaries.example');
  await portal.getByLabel('Password').fill('quernstone clay');
  await portal.getByRole('button', { name: 'Sign in' }).click();
  await expect(portal.getByRole('heading', { name: 'Bring others in' })).toBeVisible();
  await expect(portal.getByText('/join?by=kiln-diaries').first()).toBeVisible();
  await accessible(portal);
  await portal.getByRole('link', { name: 'Earnings' }).click();
  await portal
    .getByRole('button', { name: /Referral share/ })
    .first()
    .click();
  await expect(portal.getByText('Bisque & Bramble, whom you brought in, sold this')).toBeVisible();
  await accessible(portal);
  const newcomer = await (await browser.newContext()).newPage();
  await newcomer.goto(`${running.address}/join?by=kiln-diaries`);
  await expect(newcomer.getByText('Kiln Diaries brought you here.')).toBeVisible();
  await accessible(newcomer);
});
