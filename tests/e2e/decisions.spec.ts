import { expect, test } from '@playwright/test';
import { accessible, goTo, pick, run, signIn, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

test('an application is decided, and taken back, by keys alone', async ({ page }) => {
  await signIn(page, running.address, 'rui@quernstone.example');
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox')).toBeFocused();
  await page.keyboard.type('Appl');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Applications', exact: true })).toBeVisible();
  const first = page.locator('section[aria-label=Applications] [aria-current=true] b');
  await expect(first).toBeVisible();
  const before = await first.textContent();
  await page.keyboard.press('j');
  await expect(first).not.toHaveText(before!);
  await page.keyboard.press('k');
  await expect(first).toHaveText(before!);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('approve, after hold');
  await page.keyboard.press('Escape');
  await page.keyboard.press('x');
  await page.keyboard.press('j');
  await page.keyboard.press('x');
  await expect(page.getByText('2 selected')).toBeVisible();
  await page.keyboard.press('d');
  await page.keyboard.type('Not for this season');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Space');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2 applications decided')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('2 waiting again')).toBeVisible();
  await expect(page.getByText(/of 40/)).toBeVisible();
});

test('a copied note is seen beside its original, and a question goes out and comes back', async ({
  page,
  browser,
}) => {
  await signIn(page, running.address, 'rui@quernstone.example', '/applications');
  await page.getByRole('button', { name: /Clay Bargain Bay/ }).click();
  const alike = page.getByRole('region', { name: 'Nearly the same notes' });
  await expect(alike.getByText('Nearly the same as 2 other notes')).toBeVisible();
  await expect(alike.locator('mark').first()).toContainText('I have been helping makers');
  await expect(page.getByText('Bright Mug Deals, paused, has the same address.')).toBeVisible();
  await accessible(page);
  // by keys: Q asks
  await page.keyboard.press('q');
  await page.keyboard.type('Which of your sites would carry the links?');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Clay Bargain Bay is asked; the answer comes back here')).toBeVisible();
  await page.goto(`${running.standins}/mailroom`);
  const link = /http:\/\/127\.0\.0\.1:\d+\/answer\/\S+?(?=[<"\s])/;
  await expect
    .poll(
      async () => {
        await page.goto(`${running.standins}/mailroom`);
        const mail = page.getByText(/A question on your application/).first();
        if (!(await mail.count())) return false;
        await mail.click();
        return link.test(await page.content());
      },
      { timeout: 15_000 },
    )
    .toBe(true);
  const visitor = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await visitor.goto(link.exec(await page.content())![0].replaceAll('&#38;', '&'));
  await visitor.getByLabel('Your answer').fill('Only claybargainbay.example.');
  await accessible(visitor);
  await visitor.getByRole('button', { name: 'Send' }).click();
  await expect(visitor.getByText('Your answer is here')).toBeVisible();
  await page.goto(`${running.address}/applications`);
  await page.getByRole('button', { name: /Clay Bargain Bay/ }).click();
  await expect(
    page.getByRole('region', { name: 'Questions' }).getByText('Only claybargainbay.example.'),
  ).toBeVisible();
});

test('two screening rules are written, rehearsed over the past and switched on', async ({ page }) => {
  await signIn(page, running.address, 'ines@quernstone.example', '/applications/rules');
  const rules = page.getByRole('list', { name: 'Rules in order' });
  await expect(rules.getByRole('listitem')).toHaveCount(2);
  await page.keyboard.press('n');
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Country is one of').fill('pt, es');
  await dialog.getByLabel('Country is none of').fill('ES');
  await dialog.getByRole('button', { name: 'Add the rule' }).click();
  await expect(dialog.getByRole('alert')).toContainText('the rule would contradict itself');
  await dialog.getByLabel('Country is none of').fill('');
  await dialog.getByLabel('Cleared sales, at least').fill('10');
  await dialog.getByLabel('Refund rate, at most %').fill('8');
  await pick(dialog.getByRole('combobox', { name: 'Then' }), 'approve, at sale');
  await accessible(page);
  await dialog.getByRole('button', { name: 'Add the rule' }).click();
  await expect(
    rules.getByText(
      'Where cleared sales are at least 10, and the refund rate is at most 8 %, and the country is PT or ES: approve, at sale',
    ),
  ).toBeVisible();
  await rules.getByRole('button', { name: 'Rule 3 up' }).click();
  await expect(rules.getByRole('listitem').nth(1)).toContainText('cleared sales are at least 10');
  await page.keyboard.press('r');
  const rehearsal = page.getByRole('region', { name: 'Rehearsal' });
  await expect(
    rehearsal.getByRole('heading', { name: /Rehearsal over \d+ decided applications/ }),
  ).toBeVisible();
  // copied notes that were let in have ended badly; people who were declined would have been let in
  const copies = rehearsal.getByRole('row', { name: /nearly the same as another, or missing: decline/ });
  await expect(copies).toBeVisible();
  const figures = (await copies.getByRole('cell').allTextContents()).map((t) => t.trim());
  expect(Number(figures[1])).toBe(Number(figures[2]) + Number(figures[3]));
  expect(Number(figures[6])).toBeGreaterThan(0);
  await expect(rehearsal.getByRole('heading', { name: 'Whose outcome would differ' })).toBeVisible();
  await expect(rehearsal.getByRole('row', { name: /declined approved/ }).first()).toBeVisible();
  // what was found stays, and says when the rules are others by now
  await page.reload();
  await expect(
    rehearsal.getByRole('heading', { name: /Rehearsal over \d+ decided applications/ }),
  ).toBeVisible();
  await rules.getByLabel('Rule 1 on').click();
  await expect(rules.getByRole('listitem').first()).toContainText('on, has decided nothing yet');
  await expect(rehearsal.getByText('The rules are others by now: rehearse them again.')).toBeVisible();
  await accessible(page);
});

test('what is typed survives an ended session and a reload', async ({ page, context }) => {
  await signIn(page, running.address, 'ines@quernstone.example', '/products/new');
  await page.getByLabel('Name').fill('Banding wheel');
  await page.getByLabel('Price', { exact: true }).fill('59.00');
  await page.getByLabel('Percent').fill('10');
  await page.reload();
  await expect(page.getByText('What you typed last time and did not save is here again.')).toBeVisible();
  await expect(page.getByLabel('Name')).toHaveValue('Banding wheel');
  await context.clearCookies();
  await page.getByRole('button', { name: 'Create the draft' }).click();
  await expect(page.getByRole('dialog')).toContainText('Nothing you typed is lost');
  await page.getByRole('dialog').getByLabel('E-mail address').fill('ines@quernstone.example');
  await page.getByRole('dialog').getByLabel('Password').fill('quernstone clay');
  await page.getByRole('dialog').getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('Banding wheel is a draft')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Banding wheel' })).toBeVisible();
});

test('a role sees what it may do and nothing else', async ({ page }) => {
  await signIn(page, running.address, 'tom@quernstone.example', '/applications');
  await expect(page.getByText('Slipstream Studio Radio').first()).toBeVisible();
  await expect(page.getByRole('button', { name: /Approve/ })).toHaveCount(0);
  await goTo(page, '/payouts');
  await expect(page.getByText('Lena Brandvold').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Draft a run' })).toHaveCount(0);
  await goTo(page, '/products');
  await page.getByText('Small kiln').click();
  await expect(page.getByLabel('Name')).toBeDisabled();
});
