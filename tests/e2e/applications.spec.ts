import { expect, test } from '@playwright/test';
import { accessible, run, signIn, signInByForm, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

test('twenty applications are decided with the keyboard alone', async ({ page }) => {
  await signInByForm(page, running.address, 'rui@quernstone.example');
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox')).toBeFocused();
  await page.keyboard.type('Appl');
  await page.keyboard.press('Enter');
  const current = page.locator('section[aria-label=Applications] [aria-current=true] b');
  await expect(page.getByText('1 of 40')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Evidence' })).toBeVisible();
  // ten one by one: approved after hold, each leaves the next under the cursor
  for (let n = 0; n < 10; n += 1) {
    const name = await current.textContent();
    await page.keyboard.press('a');
    await expect(current).not.toHaveText(name!);
    await expect(page.getByText(`of ${39 - n}`)).toBeVisible();
  }
  // six at once, declined with a reason
  await page.keyboard.press('x');
  for (let n = 0; n < 5; n += 1) {
    await page.keyboard.press('j');
    await page.keyboard.press('x');
  }
  await expect(page.getByText('6 selected')).toBeVisible();
  await page.keyboard.press('d');
  await page.keyboard.type('Not for this season');
  for (let n = 0; n < 3; n += 1) await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByText('6 applications decided')).toBeVisible();
  // four at sale: weak evidence asks, and says what could be lost
  await page.keyboard.press('x');
  for (let n = 0; n < 3; n += 1) {
    await page.keyboard.press('j');
    await page.keyboard.press('x');
  }
  await page.keyboard.press('s');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText('The evidence of all is weak')).toBeVisible();
  await expect(dialog.getByRole('row', { name: /Together, with 100 sales each/ })).toContainText('€');
  await accessible(page);
  for (
    let n = 0;
    n < 4 &&
    !(await dialog.getByRole('button', { name: 'Approve 4' }).evaluate((b) => b === document.activeElement));
    n += 1
  )
    await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByText('4 applications decided')).toBeVisible();
  await expect(page.getByText('of 20')).toBeVisible();
});

test('a decision of long ago is changed', async ({ page }) => {
  await signIn(page, running.address, 'rui@quernstone.example', '/applications?state=declined&q=Loam+Picks');
  await expect(page.getByRole('heading', { name: 'Loam Picks' })).toBeVisible();
  await page.keyboard.press('a');
  await page.getByRole('dialog').getByRole('textbox').fill('They wrote again, in their own words');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByText('Loam Picks is approved, after hold')).toBeVisible();
});
