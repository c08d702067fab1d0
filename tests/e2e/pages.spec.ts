import { expect, test } from '@playwright/test';
import { accessible, moveClock, picture, run, signIn, untilShown, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

test('a change of the policy is published, and accepted by an affiliate', async ({ page, browser }) => {
  await signIn(page, running.address, 'ines@quernstone.example');
  await page.goto(`${running.address}/policy`);
  await expect(page.getByText('in its notice')).toBeVisible();
  await accessible(page);
  await picture(page, 'policy');
  await page.keyboard.press('n');
  await page
    .getByRole('textbox', { name: 'General terms' })
    .fill('Links are marked as advertising. The wheel pays {rate WHEEL-1}.');
  await page
    .getByRole('radiogroup', { name: 'Link advertisements straight to you?' })
    .getByLabel('yes')
    .click();
  await expect(page.getByText('reads now:')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Save the draft' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Changes: Paid search' }).locator('ins')).toContainText(
    'yes',
  );
  await page.getByRole('button', { name: 'Publish…' }).click();
  await page.getByRole('button', { name: 'Publish and tell everybody' }).click();
  await expect(page.getByText(/Version 3 is published/)).toBeVisible();
  const affiliate = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await affiliate.goto(`${running.address}/portal`);
  await affiliate.getByLabel('E-mail address').fill('mara@loamletters.example');
  await affiliate.getByLabel('Password').fill('quernstone clay');
  await affiliate.getByRole('button', { name: 'Sign in' }).click();
  await affiliate.getByRole('link', { name: 'read and accept version 3' }).click();
  await expect(affiliate.getByRole('region', { name: 'Changes: Paid search' })).toBeVisible();
  await accessible(affiliate);
  await affiliate.getByRole('button', { name: 'Accept version 3' }).click();
  await expect(affiliate.getByText(/You accepted this version on/)).toBeVisible();
  await page.goto(`${running.address}/affiliates?q=Loam+Letters`);
  await page.getByRole('row', { name: 'Loam Letters' }).click();
  await expect(page.getByText(/accepted version 3 on/)).toBeVisible();
});

test('offer pages: what everybody reads, on a phone too; the reviewer’s question is answered in place', async ({
  page,
  browser,
}) => {
  await signIn(page, running.address, 'rui@quernstone.example');
  await page.goto(`${running.address}/offers`);
  await expect(page.getByText(/By rate you are/)).toBeVisible();
  await accessible(page);
  await picture(page, 'offers');
  const phone = await (await browser.newContext({ viewport: { width: 360, height: 740 } })).newPage();
  await phone.goto(`${running.address}/offers/a-wheel-that-fits-on-a-kitchen-table`);
  await expect(phone.getByRole('heading', { name: 'A wheel that fits on a kitchen table' })).toBeVisible();
  await expect(phone.getByText('you earn 12 %')).toBeVisible();
  expect(
    await phone.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
  ).toBeLessThanOrEqual(0);
  await accessible(phone);
  await moveClock(page, 'week');
  const offers = `${running.address}/offers`;
  await untilShown(page, offers, page.getByLabel('Answer to the reviewer'), 1);
  await page.getByLabel('Answer to the reviewer').fill('All of Europe; we pay for returns.');
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await expect(page.getByText('Sent to the reviewer')).toBeVisible();
  await untilShown(page, offers, page.getByText('waits for the registry'), 0);
  await moveClock(page, 'week');
  await untilShown(page, offers, page.getByText('Thank you for the clear answer'), 1);
});
