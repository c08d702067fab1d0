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

const dialog = () => page.getByRole('dialog');

test('unconfirmed sales are confirmed and set aside by keys alone', async () => {
  await page.goto(running.address);
  await expect(page.getByText('1 sale unconfirmed for 7 days')).toBeVisible();
  await goTo(page, '/sales?unconfirmed=1');
  const table = page.getByRole('region', { name: 'Unconfirmed sales' });
  await expect(table.getByText('Q-20917')).toBeVisible();
  await expect(table.getByText('€58.00 is more than the price, €40.00')).toBeVisible();
  await accessible(page);
  await picture(page, 'unconfirmed');
  await page.keyboard.press('j');
  await page.keyboard.press('a');
  await expect(dialog()).toContainText('paid after hold, whatever was agreed');
  await page.keyboard.press('Enter');
  await expect(
    page.getByText('Q-20917 is a sale; its commission is held until its clearing date'),
  ).toBeVisible();
  await expect(table.getByText('Q-20917')).toHaveCount(0);
  await page.keyboard.press('j');
  await page.keyboard.press('d');
  await dialog().getByLabel('Why').waitFor();
  await page.keyboard.type('No such order in the shop');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Q-20914 is set aside')).toBeVisible();
  await goTo(page, '/sales?q=Q-20917');
  await page.getByText('Q-20917').first().click();
  await expect(page.getByText('by the fallback picture alone, which nobody signed')).toBeVisible();
});

test('a lost answer and a second click correct a commission once', async () => {
  await goTo(page, '/sales?q=Q-5552');
  await page.getByText('Q-5552').first().click();
  await page
    .getByRole('button', { name: /Correct/ })
    .first()
    .click();
  await dialog().getByLabel('Difference').fill('1.00');
  await dialog()
    .getByLabel(/Reason/)
    .fill('The agreed rate was higher');
  // the server does it, and the answer never arrives
  let lost = 0;
  await page.route('**/api/v1/commissions/*/correct', async (route) => {
    if (lost > 0) return route.continue();
    lost += 1;
    await route.fetch();
    return route.abort();
  });
  await dialog().getByRole('button', { name: 'Correct', exact: true }).click();
  await expect(page.getByText('Gravenel does not answer').first()).toBeVisible();
  await dialog().getByRole('button', { name: 'Correct', exact: true }).click();
  await expect(page.getByText(/Corrected: €48\.76 is left/)).toBeVisible();
  await page.unroute('**/api/v1/commissions/*/correct');
  await expect(page.getByText('Corrected by €1.00: The agreed rate was higher')).toHaveCount(2);
});

test('moving somebody to lower terms says so, waits for the notice, and can be stopped', async () => {
  await goTo(page, '/affiliates?q=Kiln Diaries');
  await page.getByRole('row', { name: 'Kiln Diaries' }).click();
  await page.getByRole('button', { name: 'change card, group and tags' }).click();
  await pick(dialog().getByLabel('Group'), 'none');
  await expect(dialog().getByRole('note')).toContainText(
    'This earns less (Glaze subscription box, first sale: €0.63 → €0.60 for Kiln Diaries). The promised notice is kept: for this one it begins on 26 Mar 2027',
  );
  await dialog().getByRole('button', { name: 'Change on 26 Mar 2027' }).click();
  await expect(
    page.getByText('Kiln Diaries: changes take effect on 26 Mar 2027, after the notice'),
  ).toBeVisible();
  await expect(page.getByText('group Studio circle').first()).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByText('Taken back', { exact: true })).toBeVisible();
});
