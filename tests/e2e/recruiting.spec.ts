import { expect, test, type Page } from '@playwright/test';
import { partnerAt } from '../../src/standins/partners';
import { accessible, pick, picture, run, signIn, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

async function moveClock(page: Page, by: string): Promise<void> {
  await page.getByRole('button', { name: /Demo day/ }).click();
  await page.getByRole('menuitem', { name: `Move on by a ${by}` }).click();
  await expect(page.getByText(/^It is /).last()).toBeVisible();
}

test('twenty applications are decided with the keyboard alone', async ({ page }) => {
  await signIn(page, running.address, 'rui@quernstone.example');
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
  await signIn(page, running.address, 'rui@quernstone.example');
  await page.goto(`${running.address}/applications?state=declined&q=Loam+Picks`);
  await expect(page.getByRole('heading', { name: 'Loam Picks' })).toBeVisible();
  await page.keyboard.press('a');
  await page.getByRole('dialog').getByRole('textbox').fill('They wrote again, in their own words');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByText('Loam Picks is approved, after hold')).toBeVisible();
});

/** A partner is found by the site it is not listed under. */
async function findsBySite(page: Page): Promise<void> {
  const other = Array.from({ length: 500 }, (_, i) => partnerAt(i + 3000)).find(
    (p) => p.sites.length === 2 && !p.sites[1]!.includes(':8080'),
  )!;
  await page.goto(`${running.address}/prospects`);
  await expect(page.getByText('30,000 partners in our copy')).toBeVisible();
  await accessible(page);
  await picture(page, 'prospects');
  await page.keyboard.press('/');
  await page.keyboard.type(other.sites[1]!.replace('https://', '').slice(2, -9));
  await expect(page.getByRole('row', { name: other.name })).toContainText('in a site');
  await page.keyboard.press('Escape');
  await page.getByRole('row', { name: other.name }).click();
  await expect(page.getByRole('heading', { name: other.name })).toBeVisible();
  await expect(page.getByText('Never invited.')).toBeVisible();
  await accessible(page);
}

/** A partner found by its id gets a new tag. */
async function tags(page: Page, partner: { id: string; name: string }): Promise<void> {
  await page.goto(`${running.address}/prospects?q=${partner.id}`);
  await expect(page.getByRole('row', { name: partner.name })).toContainText('by its id');
  await page.getByLabel(`Select ${partner.name}`).click();
  await page.keyboard.press('t');
  await page.getByRole('dialog').getByLabel('or a new one').fill('spring fair');
  await page.getByRole('dialog').getByRole('button', { name: 'Tag', exact: true }).click();
  await expect(page.getByText('Tagged: 1')).toBeVisible();
}

/** The first five of a word are invited together, with a group and a tag. @returns their names */
async function invitesFive(page: Page, word: string): Promise<string[]> {
  await page.goto(`${running.address}/prospects?q=${word}&state=never`);
  const boxes = page.getByRole('checkbox', { name: /^Select / });
  await expect(boxes.nth(5)).toBeVisible();
  const names: string[] = [];
  for (let n = 0; n < 5; n += 1) {
    names.push((await boxes.nth(n).getAttribute('aria-label'))!.replace('Select ', ''));
    await boxes.nth(n).click();
  }
  await page.keyboard.press('i');
  const dialog = page.getByRole('dialog');
  await pick(dialog.getByLabel('Group'), 'Studio circle');
  await dialog.getByLabel('spring fair').click();
  await expect(dialog.getByText(`As ${names[0]} reads it`)).toBeVisible();
  await accessible(page);
  await dialog.getByRole('button', { name: 'Invite 5' }).click();
  await expect(page.getByText('5 invitations are on the way')).toBeVisible();
  return names;
}

/** Looks at the invitations of a state again and again until as many rows are there. */
async function untilInvitations(page: Page, state: string, count: () => Promise<number>, least: number) {
  await expect
    .poll(
      async () => {
        await page.goto(`${running.address}/prospects/invitations?state=${state}`);
        await expect(page.getByRole('heading', { name: 'Invitations' })).toBeVisible();
        await page.waitForTimeout(500);
        return count();
      },
      { timeout: 30_000 },
    )
    .toBeGreaterThanOrEqual(least);
}

test('a partner is found by the site it is not listed under; five are invited with a tag and a group and arrive with both', async ({
  page,
}) => {
  // one that says yes, whatever the clock brings
  await page.goto(running.registry);
  await page.getByLabel('Those invited').selectOption('accept');
  await page.getByRole('button', { name: 'Keep' }).click();
  await signIn(page, running.address, 'rui@quernstone.example');
  await findsBySite(page);
  // found by its id and tagged; five with a word of its name are invited together
  const wanted = partnerAt(2001);
  await tags(page, wanted);
  const names = await invitesFive(page, wanted.name.replace('The ', '').split(' ')[0]!);
  await untilInvitations(page, 'sent', () => page.getByRole('row').count(), 6);
  await moveClock(page, 'week');
  const listed = async () =>
    (await Promise.all(names.map((n) => page.getByRole('row', { name: n }).count()))).filter(Boolean).length;
  await untilInvitations(page, 'accepted', listed, 5);
  await page.goto(`${running.address}/affiliates?sort=newest&columns=group,tags,kind`);
  for (const n of names)
    await expect(page.getByRole('row', { name: n })).toContainText(/Studio circle.*spring fair/);
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

test('the roster is narrowed, sorted into a group and taken back, saved as a segment, written to', async ({
  page,
}) => {
  await signIn(page, running.address, 'rui@quernstone.example');
  await page.goto(`${running.address}/affiliates`);
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
  await expect
    .poll(
      async () => {
        await page.goto(`${running.address}/offers`);
        await expect(page.getByRole('heading', { name: 'Offer pages' })).toBeVisible();
        return page.getByLabel('Answer to the reviewer').count();
      },
      { timeout: 30_000 },
    )
    .toBe(1);
  await page.getByLabel('Answer to the reviewer').fill('All of Europe; we pay for returns.');
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await expect(page.getByText('Sent to the reviewer')).toBeVisible();
  await page.waitForTimeout(4000);
  await moveClock(page, 'week');
  await expect
    .poll(
      async () => {
        await page.goto(`${running.address}/offers`);
        await expect(page.getByRole('heading', { name: 'Offer pages' })).toBeVisible();
        return page.getByText('Thank you for the clear answer').count();
      },
      { timeout: 30_000 },
    )
    .toBe(1);
});

test('staff see the portal as one of the affiliates, reading only', async ({ page }) => {
  await signIn(page, running.address, 'rui@quernstone.example');
  await page.goto(`${running.address}/affiliates?q=Kiln+Diaries`);
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
    await page.goto(running.address + path);
    await expect(page.locator('.skeleton')).toHaveCount(0);
    await page.waitForTimeout(300);
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
