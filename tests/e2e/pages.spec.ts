import { expect, test } from '@playwright/test';
import { accessible, moveClock, picture, run, signIn, untilShown, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

test('offer pages: what everybody reads, on a phone too; the reviewer’s question is answered in place', async ({
  page,
  browser,
}) => {
  await signIn(page, running.address, 'rui@quernstone.example', '/offers');
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
