import { expect, test, type Page } from '@playwright/test';
import { accessible, goTo, pick, run, settled, signIn, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

test('the roster is narrowed, sorted into a group and taken back, saved as a segment, written to', async ({
  page,
}) => {
  await signIn(page, running.address, 'rui@quernstone.example', '/affiliates');
  await page.getByRole('button', { name: 'Kind' }).click();
  await page.getByRole('menuitemradio', { name: 'of the kind podcast' }).click();
  await page.getByRole('button', { name: 'State' }).click();
  await page.getByRole('menuitemradio', { name: 'Those who are active' }).click();
  await page.getByRole('button', { name: 'save these as a segment' }).click();
  await page.getByLabel('Name of the segment').fill('Voices');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Voices', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('e');
  await page.keyboard.press('g');
  const dialog = page.getByRole('dialog');
  await pick(dialog.getByLabel('Put into a group'), 'Classrooms');
  await expect(dialog.getByRole('status')).toContainText(/change/);
  await accessible(page);
  await dialog.getByRole('button', { name: /Put into a group, \d+/ }).click();
  await expect(page.getByText(/Grouped: \d+/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/Taken back for \d+/)).toBeVisible();
  await page.keyboard.press('e');
  await page.keyboard.press('m');
  await dialog.getByLabel('Subject').fill('A thought, {name}');
  await dialog.getByLabel('Message').fill('Hello {name}, the wheel pays {rate WHEEL-1}.');
  await expect(dialog.getByRole('region', { name: 'How it reads' })).toContainText(
    /Hello .+, the wheel pays 1\d/,
  );
  await accessible(page);
  await dialog.getByRole('button', { name: /Send to \d+/ }).click();
  await expect(page.getByText(/On the way to \d+/)).toBeVisible();
  // a list read in, with one line at fault
  await page.getByRole('button', { name: 'Read in…' }).click();
  await dialog
    .getByLabel('List')
    .fill('email;name;country;kind\nnew@kilnyard.example;Kiln Yard;PT;blog\nnowhere;X;PT;blog\n');
  await dialog.getByRole('button', { name: 'See what it would do' }).click();
  await expect(dialog.getByRole('status')).toContainText('1 left out · 1 new');
  await dialog.getByRole('button', { name: 'Read in 1' }).click();
  await expect(page.getByText('1 new, 0 changed, 1 left out')).toBeVisible();
});

test('staff see the portal as one of the affiliates, reading only', async ({ page }) => {
  await signIn(page, running.address, 'rui@quernstone.example', '/affiliates?q=Kiln+Diaries');
  await page.getByRole('row', { name: 'Kiln Diaries' }).click();
  await page.getByRole('link', { name: 'as they see it' }).click();
  await expect(page.getByText('reading only, nothing can be changed here')).toBeVisible();
  await expect(page.getByText('Your tracking links')).toBeVisible();
  await accessible(page);
  await page.getByRole('link', { name: 'Details' }).click();
  await page.getByRole('checkbox').click();
  await expect(page.getByText(/reading only. Nothing was changed/)).toBeVisible();
  await page.getByRole('link', { name: 'Back to the desk' }).click();
  await expect(page.getByRole('heading', { name: 'Kiln Diaries' })).toBeVisible();
  // what names no affiliate leads to where one is chosen
  await goTo(page, '/as/run_1');
  await expect(page).toHaveURL(`${running.address}/as`);
  await goTo(page, '/affiliates/prd_1');
  await expect(page.getByText('There is no such page')).toBeVisible();
});

/** Names, addresses and amounts that can be read on the page. */
function bareWords(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const secret =
      /[€$£¥]\s?\d|@[a-z-]+\.example|Loam Letters|Kiln Diaries|Slipstream Studio|Zeno’s|Beach Clay/;
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    const seen: string[] = [];
    while (walk.nextNode()) {
      const text = walk.currentNode.textContent ?? '';
      const at = walk.currentNode.parentElement;
      if (
        at &&
        secret.test(text) &&
        !at.closest('script,style') &&
        getComputedStyle(at).color !== 'rgba(0, 0, 0, 0)' &&
        at.getClientRects().length
      )
        seen.push(text.trim().slice(0, 60));
    }
    return seen;
  });
}

test('the veil hides names, addresses and amounts on every place, with one key', async ({ page }) => {
  await signIn(page, running.address, 'ines@quernstone.example');
  await expect(page.getByText('Owed in all')).toBeVisible();
  await page.keyboard.press('v');
  await expect(page.getByRole('button', { name: /Veiled/ })).toHaveAttribute('aria-pressed', 'true');
  for (const path of [
    '/',
    '/applications',
    '/affiliates',
    '/affiliates?columns=email,sites,handle',
    '/prospects',
    '/prospects/invitations',
    '/sales',
    '/sales?unconfirmed=1',
    '/ledger',
    '/payouts',
    '/rates',
    '/policy',
    '/offers',
    '/products',
    '/settings?part=people',
    '/rates/timeline',
    '/connection',
    '/applications/rules',
    '/affiliates?q=Loam+Letters',
  ]) {
    await goTo(page, path);
    await settled(page);
    const bare = await bareWords(page);
    expect.soft(bare, path).toEqual([]);
  }
  await page.getByRole('row').nth(1).click();
  await expect(page.getByText('Terms in force')).toBeVisible();
  expect.soft(await bareWords(page), 'an affiliate').toEqual([]);
  await page.getByRole('link', { name: 'as they see it' }).click();
  await expect(page.getByText('reading only, nothing can be changed here')).toBeVisible();
  await expect(page.getByText('Your tracking links')).toBeVisible();
  expect
    .soft(
      (await bareWords(page)).filter((w) => /Loam Letters/.test(w)),
      'the portal as one of them',
    )
    .toEqual([]);
  await page.goBack();
  await expect(page.getByText('Terms in force')).toBeVisible();
  await page.keyboard.press('v');
  await expect(page.getByRole('button', { name: /^Veil/ })).toHaveAttribute('aria-pressed', 'false');
  expect((await bareWords(page)).length).toBeGreaterThan(3);
});
