import { expect, test } from '@playwright/test';
import type { Browser, Page } from '@playwright/test';
import type { Running } from './helpers';
import { accessible, run, signIn } from './helpers';

let running: Running;
test.beforeAll(async () => { running = await run('demo'); });
test.afterAll(() => running.stop());

const fresh = async (browser: Browser): Promise<Page> => (await browser.newContext()).newPage();

test('a forgotten password is set anew by the link of a mail, and changed in the desk by keys alone', async ({ browser }) => {
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

test('two people in the settings: what the other saved is taken or shown with both values, and nothing is lost', async ({ browser }) => {
  const [ines, rui] = [await fresh(browser), await fresh(browser)];
  await signIn(ines, running.address, 'ines@quernstone.example');
  await signIn(rui, running.address, 'rui@quernstone.example');
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
  await expect(note).toContainText('Contact address: “affiliates@quernstone.example” now, taken into this form');
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
  const [ines, rui] = [await fresh(browser), await fresh(browser)];
  await signIn(ines, running.address, 'ines@quernstone.example');
  await signIn(rui, running.address, 'rui@quernstone.example');
  await ines.goto(`${running.address}/products`);
  await ines.getByText('Tool roll').first().dblclick();
  await ines.waitForURL(/products\/prd_/);
  await rui.goto(ines.url());
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
  await expect(rui.getByLabel('Description', { exact: true })).toHaveValue('Nine tools in waxed canvas, with a loop.');
  await expect(rui.getByLabel('Refund window')).toHaveValue('21');
});

test('a fault of a field is said once, and not again at each key', async ({ page }) => {
  await page.goto(`${running.address}/join`);
  await page.getByRole('button', { name: 'Apply' }).click();
  const alerts = page.getByRole('alert');
  await page.getByText(/accept the/).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(alerts.first()).toBeVisible();
  await page.evaluate(() => {
    const changes: string[] = [];
    Object.assign(window, { changes });
    new MutationObserver((all) => { for (const m of all) { const at = (m.target.nodeType === 3 ? m.target.parentElement : m.target as Element)?.closest('[role=alert]'); if (at ?? [...m.addedNodes].some((n) => n instanceof Element && n.getAttribute('role') === 'alert')) changes.push('said'); } })
      .observe(document.body, { subtree: true, childList: true, characterData: true });
  });
  await page.getByLabel('E-mail address').pressSequentially('mara@loam');
  expect(await page.evaluate(() => (window as unknown as { changes: string[] }).changes.length)).toBe(0);
});
