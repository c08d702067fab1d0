import { expect, test, type Browser, type Page } from '@playwright/test';
import { accessible, run, signIn, signInPortal, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(() => running.stop());

const fresh = async (browser: Browser): Promise<Page> => (await browser.newContext()).newPage();

/** An owner and a manager, each in a browser of its own. */
async function two(browser: Browser): Promise<[Page, Page]> {
  const [ines, rui]: [Page, Page] = [await fresh(browser), await fresh(browser)];
  await signIn(ines, running.address, 'ines@quernstone.example');
  await signIn(rui, running.address, 'rui@quernstone.example');
  return [ines, rui];
}

/** Both at the same product. */
async function atToolRoll(one: Page, other: Page): Promise<void> {
  await one.goto(`${running.address}/products`);
  await one.getByText('Tool roll').first().dblclick();
  await one.waitForURL(/products\/prd_/);
  await other.goto(one.url());
}

test('a forgotten password is set anew by the link of a mail, and changed in the desk by keys alone', async ({
  browser,
}) => {
  const tom = await fresh(browser);
  await tom.goto(running.address);
  await tom.getByRole('button', { name: 'Forgotten your password?' }).click();
  await tom.getByLabel('E-mail address').fill('tom@quernstone.example');
  await tom.getByRole('button', { name: 'Send the link' }).click();
  await expect(tom.getByText(/If this address is known here/)).toBeVisible();
  await accessible(tom);
  await expect(async () => {
    await tom.goto(`${running.standins}/mailroom?to=tom@`);
    await tom.getByRole('link', { name: /A new password/ }).click({ timeout: 1000 });
  }).toPass({ timeout: 15_000 });
  await tom.getByRole('link', { name: /password\?token/ }).click();
  await tom.getByLabel('Choose a password').fill('password1234');
  await tom.getByRole('button', { name: 'Set it and go in' }).click();
  await expect(tom.getByText(/too easy to guess/)).toBeVisible();
  await tom.getByLabel('Choose a password').fill('four jars of tenmoku');
  await tom.keyboard.press('Enter');
  await expect(tom.getByRole('heading', { name: /^Today/ })).toBeVisible();
  const menu = tom.getByRole('button', { name: /Tom Ashgrove · viewer/ });
  await menu.focus();
  await tom.keyboard.press('Enter');
  await tom.keyboard.press('Enter');
  const dialog = tom.getByRole('dialog');
  await expect(dialog.getByRole('heading', { name: 'Change your password' })).toBeVisible();
  await accessible(tom);
  await dialog.getByLabel('Present password').fill('not this one');
  await dialog.getByLabel('New password').fill('five jars of tenmoku');
  await tom.keyboard.press('Enter');
  await expect(dialog.getByText('Your password is not this one')).toBeVisible();
  await dialog.getByLabel('Present password').fill('four jars of tenmoku');
  await tom.keyboard.press('Enter');
  await expect(tom.getByText('Your password is changed')).toBeVisible();
});

test('two people in the settings: what the other saved is taken or shown with both values, and nothing is lost', async ({
  browser,
}) => {
  const [ines, rui] = await two(browser);
  for (const page of [ines, rui]) await page.goto(`${running.address}/settings`);
  await ines.getByLabel('Attribution window').fill('45');
  await ines.getByLabel('Reports are kept for').fill('90');
  await rui.getByLabel('Attribution window').fill('60');
  await rui.getByLabel('Contact address').fill('affiliates@quernstone.example');
  await rui.getByRole('button', { name: 'Save' }).click();
  await expect(rui.getByText('Saved')).toBeVisible();
  // what was read meanwhile does not let the older form through
  await ines.evaluate(() => window.dispatchEvent(new Event('focus')));
  await ines.getByRole('button', { name: 'Save' }).click();
  const note = ines.getByRole('status').filter({ hasText: 'Rui Sardinha changed the settings meanwhile' });
  await expect(note).toContainText(
    'Contact address: “affiliates@quernstone.example” now, taken into this form',
  );
  await expect(note).toContainText('Attribution window: they “60”, you “45”; it was “30”');
  await expect(ines.getByLabel('Contact address')).toHaveValue('affiliates@quernstone.example');
  await accessible(ines);
  await ines.getByRole('button', { name: 'Save' }).click();
  await expect(ines.getByText('Saved')).toBeVisible();
  await rui.reload();
  await expect(rui.getByLabel('Attribution window')).toHaveValue('45');
  await expect(rui.getByLabel('Reports are kept for')).toHaveValue('90');
  await expect(rui.getByLabel('Contact address')).toHaveValue('affiliates@quernstone.example');
});

test('a product that somebody else changed meanwhile keeps both, across a reload', async ({ browser }) => {
  const [ines, rui] = await two(browser);
  await atToolRoll(ines, rui);
  await ines.getByLabel('Description', { exact: true }).fill('Nine tools in waxed canvas, with a loop.');
  await rui.getByLabel('Refund window').fill('21');
  await rui.getByRole('button', { name: 'Save' }).click();
  await expect(rui.getByText('Saved')).toBeVisible();
  await ines.reload();
  await expect(ines.getByText('What you typed last time and did not save is here again')).toBeVisible();
  await ines.getByRole('button', { name: 'Save' }).click();
  await expect(ines.getByText(/Rui Sardinha changed this product meanwhile/)).toBeVisible();
  await ines.getByRole('button', { name: 'Save' }).click();
  await expect(ines.getByText('Saved').first()).toBeVisible();
  await rui.reload();
  await expect(rui.getByLabel('Description', { exact: true })).toHaveValue(
    'Nine tools in waxed canvas, with a loop.',
  );
  await expect(rui.getByLabel('Refund window')).toHaveValue('21');
});

test('a row that is opened while the search still settles stays open', async ({ browser }) => {
  const ines = await fresh(browser);
  await signIn(ines, running.address, 'ines@quernstone.example', '/prospects');
  await ines.getByLabel('Id, name, site or keyword').fill('kiln');
  await ines.waitForURL(/q=kiln/);
  // the page of a partner takes longer to come than the search takes to settle
  let asked = 0;
  await ines.route('**/assets/*.js', async (route) => {
    asked += 1;
    await new Promise((go) => {
      setTimeout(go, 700);
    });
    await route.continue();
  });
  await ines.getByLabel('Id, name, site or keyword').press('Escape');
  await ines.getByRole('row').nth(3).click();
  await expect(ines.getByRole('heading', { name: 'Invitations', exact: true })).toBeVisible({
    timeout: 15_000,
  });
  expect(asked).toBeGreaterThan(0);
  await expect(ines).toHaveURL(/prospects\/P-\d+$/);
});

test('Enter opens nothing that was found for fewer letters', async ({ browser }) => {
  const page = await fresh(browser);
  await signIn(page, running.address, 'rui@quernstone.example');
  let release: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route(/api\/v1\/search\?q=Ap/, async (route) => {
    await held;
    await route.continue();
  });
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox')).toBeFocused();
  await page.keyboard.type('A');
  await expect(page.getByRole('option').filter({ hasText: 'Product' }).first()).toBeVisible();
  await page.keyboard.type('ppl');
  await expect(page.getByRole('combobox')).toHaveValue('Appl');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/applications$/);
  release();
  await page.context().close();
});

test('no payout run is drafted while its day is none, however often it is asked for', async ({ browser }) => {
  const page = await fresh(browser);
  await signIn(page, running.address, 'lena@quernstone.example');
  let drafted = 0;
  page.on('request', (request) => {
    if (request.method() === 'POST' && request.url().endsWith('/api/v1/payouts')) drafted += 1;
  });
  await page.goto(`${running.address}/payouts?draft=1`);
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Cut-off day').fill('31 feb 2027');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await dialog.getByRole('button', { name: 'Draft' }).dblclick();
  await expect(dialog.getByText('“31 feb 2027” is not a day of the calendar')).toBeVisible();
  expect(drafted).toBe(0);
  await page.goto(`${running.address}/sales?from=soon&to=2027-03-01`);
  await expect(page.getByLabel('From')).toHaveValue('soon');
  await page.context().close();
});

test('a fault of a field is said once, and not again at each key', async ({ page }) => {
  await page.goto(`${running.address}/join`);
  await page.getByRole('button', { name: 'Apply' }).click();
  const alerts = page.getByRole('alert');
  await page.getByText(/accept the/).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(alerts.first()).toBeVisible();
  const changes = await page.evaluateHandle(() => {
    const said: string[] = [];
    new MutationObserver((all) => {
      for (const m of all) {
        const at = (m.target.nodeType === 3 ? m.target.parentElement : (m.target as Element))?.closest(
          '[role=alert]',
        );
        if (at ?? [...m.addedNodes].some((n) => n instanceof Element && n.getAttribute('role') === 'alert'))
          said.push('said');
      }
    }).observe(document.body, { subtree: true, childList: true, characterData: true });
    return said;
  });
  await page.getByLabel('E-mail address').pressSequentially('mara@loam');
  expect(await changes.evaluate((said) => said.length)).toBe(0);
});

test('two people at a rule, an offer page and co-owners: both values and who it was', async ({ browser }) => {
  const [ines, rui] = await two(browser);
  const both = async (path: string, open: (page: Page) => Promise<void>) => {
    for (const page of [ines, rui]) {
      await page.goto(running.address + path);
      await open(page);
    }
  };
  const note = (record: string) =>
    ines.getByRole('status').filter({ hasText: `Rui Sardinha changed ${record} meanwhile` });
  await both('/applications/rules', async (page) =>
    page.getByRole('button', { name: 'Change rule 1' }).click(),
  );
  await ines.getByLabel('Standing, at least').fill('70');
  await rui.getByLabel('Standing, at least').fill('80');
  await rui.getByLabel('Country is none of').fill('CY');
  await rui.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(rui.getByText('Saved')).toBeVisible();
  await ines.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(note('this rule')).toContainText(/Standing, at least: they “80”, you “70”; it was “\w+”/);
  await expect(note('this rule')).toContainText('Country is none of: “CY” now, taken into this form');
  await accessible(ines);
  await ines.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(ines.getByText('Saved')).toBeVisible();
  await expect(ines.getByRole('list', { name: 'Rules in order' })).toContainText(/70.*CY|CY.*70/);

  await both('/offers', async (page) => page.getByRole('button', { name: 'Change E' }).click());
  await ines.getByLabel('Headline').fill('A wheel for the kitchen');
  await rui.getByLabel('Headline').fill('A wheel for the bench');
  await rui.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(rui.getByText('Saved')).toBeVisible();
  await ines.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(note('this page')).toContainText(
    'Headline: they “A wheel for the bench”, you “A wheel for the kitchen”',
  );
  await note('this page').getByRole('button', { name: 'Take theirs' }).click();
  await expect(ines.getByLabel('Headline')).toHaveValue('A wheel for the bench');
});

test('two people at the co-owners of a product: the later reads what the other set', async ({ browser }) => {
  const [ines, rui] = await two(browser);
  await atToolRoll(ines, rui);
  for (const page of [ines, rui]) {
    await page
      .getByRole('button', { name: /^(add|change)$/ })
      .last()
      .click();
    await page.getByRole('button', { name: 'Somebody who is known' }).click();
    await page.keyboard.type('Loam');
    await page.getByRole('option', { name: /Loam/ }).first().click();
    await page
      .getByLabel(/^Percent of/)
      .last()
      .fill(page === ines ? '10' : '20');
  }
  await rui.getByRole('button', { name: 'Change from now on' }).click();
  await expect(rui.getByText(/co-owners changed from now on/)).toBeVisible();
  // what was read meanwhile does not let the older form through
  await ines.evaluate(() => window.dispatchEvent(new Event('focus')));
  await ines.getByRole('button', { name: 'Change from now on' }).click();
  await expect(ines.getByText(/Rui Sardinha changed the co-owners meanwhile/)).toBeVisible();
  await expect(ines.getByText(/They “.* 20 %”; it was “nobody”/)).toBeVisible();
});

test('payout details in two windows: what is typed outlives what the other saved', async ({ browser }) => {
  const context = await browser.newContext();
  const [one, two] = [await context.newPage(), await context.newPage()];
  await signInPortal(one, running.address);
  await expect(one.getByRole('navigation').first()).toBeVisible();
  for (const page of [one, two]) await page.goto(`${running.address}/portal/details`);
  await one.getByLabel('Account holder').fill('Mara L. Okello');
  await two.getByLabel('Address', { exact: true }).fill('Rua do Forno 4, Porto');
  for (const page of [one, two])
    await page
      .getByLabel('Password', { exact: true })
      .or(page.getByLabel('Your password'))
      .first()
      .fill('quernstone clay');
  await two.getByRole('button', { name: 'Keep them' }).click();
  await expect(two.getByText('Your payout details are kept')).toBeVisible();
  await one.evaluate(() => window.dispatchEvent(new Event('focus')));
  await expect(one.getByLabel('Account holder')).toHaveValue('Mara L. Okello');
  await one.getByRole('button', { name: 'Keep them' }).click();
  await expect(one.getByText('Address: “Rua do Forno 4, Porto” now, taken into this form')).toBeVisible();
  await one.getByRole('button', { name: 'Keep them' }).click();
  await expect(one.getByText('Your payout details are kept')).toBeVisible();
  await two.reload();
  await expect(two.getByLabel('Account holder')).toHaveValue('Mara L. Okello');
  await expect(two.getByLabel('Address', { exact: true })).toHaveValue('Rua do Forno 4, Porto');
});
