import { expect, test, type Page } from '@playwright/test';
import { accessible, goTo, picture, run, settled, signIn, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
});

const practice = (page: Page, name: string) => page.getByRole('listitem', { name, exact: true });
const answerOf = (page: Page, name: string) => page.getByRole('radiogroup', { name: `Answer: ${name}` });

/** The link to accept in the newest message to an address. */
async function linkTo(address: string): Promise<string> {
  const find = async () => {
    const mails = (await (await fetch(`${running.standins}/mailroom/messages.json`)).json()) as {
      to: string;
      body: string;
    }[];
    return mails.find(
      (m) => m.to === address && m.body.includes('What changes for you: Cash return to buyers; Paid'),
    )?.body;
  };
  await expect.poll(find, { timeout: 30_000 }).toBeTruthy();
  return /http\S+\/accept\/\S+/.exec((await find())!)![0];
}

test('a change of two practices is published with what is typed, and accepted by the link of a mail, on a phone', async ({
  page,
  browser,
}) => {
  await signIn(page, running.address, 'ines@quernstone.example', '/policy');
  await expect(page.getByText('in its notice')).toBeVisible();
  await accessible(page);
  await picture(page, 'policy');
  // the version before practices reads as it was written
  await page.keyboard.press('j');
  await expect(page.getByText('Bidding on misspellings of it')).toBeVisible();
  await page.keyboard.press('n');
  await expect(page.getByText('14 of 14 answered')).toBeVisible();
  await answerOf(page, 'Cash return to buyers').getByText('not here').click();
  // by keys alone: arrows move through the answers
  const social = answerOf(page, 'Paid advertising on social networks').getByLabel('ask first');
  await social.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(answerOf(page, 'Paid advertising on social networks').getByLabel('welcome')).toBeChecked();
  await page
    .getByRole('textbox', { name: 'Further terms' })
    .fill('Links are marked as advertising. The wheel pays {rate WHEEL-1}.');
  await expect(page.getByText('reads now: Links')).toBeVisible();
  await accessible(page);
  // nothing was saved: publishing takes what is typed along
  await page.getByRole('button', { name: 'Publish…' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('region', { name: 'Whom it is about' })).toContainText('Loam Letters');
  await expect(dialog).toContainText('1 was let in for it and stays so');
  await accessible(page);
  await dialog.getByRole('button', { name: /Publish and tell/ }).click();
  await expect(page.getByText(/Version 3 is published/)).toBeVisible();
  const phone = await (await browser.newContext({ viewport: { width: 360, height: 740 } })).newPage();
  await phone.goto(await linkTo('mara@loamletters.example'));
  const changed = phone.getByRole('region', { name: 'Changes: Cash return to buyers' });
  await expect(changed).toContainText('ask first');
  await expect(changed).toContainText('not here');
  await accessible(phone);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
  await phone.getByRole('button', { name: 'Accept version 3' }).click();
  await expect(phone.getByText(/You accepted this version on/)).toBeVisible();
  await phone.reload();
  await expect(phone.getByText(/You accepted this version on/)).toBeVisible();
  await goTo(page, '/affiliates?q=Loam+Letters');
  await page.getByRole('row', { name: 'Loam Letters' }).click();
  await expect(page.getByText(/accepted version 3 on/)).toBeVisible();
  await expect(practice(page, 'Paid advertising on social networks')).toContainText('let in');
});

test('a practice of one’s own is answered for a group apart, kept over a reload, and asked about where it stays empty', async ({
  page,
}) => {
  await signIn(page, running.address, 'rui@quernstone.example', '/policy');
  await expect(page.getByText('in its notice').first()).toBeVisible();
  await page.keyboard.press('n');
  // removed, and brought back exactly where it was
  await page.getByRole('button', { name: 'More of Comparing us with rivals' }).click();
  await page.getByRole('button', { name: 'Remove from the table' }).click();
  await expect(practice(page, 'Comparing us with rivals')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Practice 9', exact: true })).toHaveValue(
    'Comparing us with rivals',
  );
  await page.getByRole('button', { name: 'Add a practice of your own' }).click();
  await page.getByRole('textbox', { name: 'Practice 15', exact: true }).fill('Selling at fairs');
  await page.getByRole('button', { name: 'More of Selling at fairs' }).click();
  await page.getByRole('textbox', { name: 'Phrases: Selling at fairs' }).fill('fair, market stall');
  await page.getByRole('button', { name: 'Answer a group or a kind of partner otherwise' }).click();
  await page.getByRole('button', { name: 'Save the draft' }).click();
  await expect(page.getByText('is answered for some, but not for everybody')).toBeVisible();
  await page.reload();
  await expect(page.getByText('is here again')).toBeVisible();
  await expect(page.getByText('1 answer apart, 2 phrases')).toBeVisible();
  await answerOf(page, 'Selling at fairs').getByText('welcome').click();
  await page.getByRole('textbox', { name: 'What we owe you' }).fill('');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Publish…' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText(/Empty: What we owe you/)).toBeVisible();
  await expect(dialog.getByRole('button', { name: /Publish and tell/ })).toBeDisabled();
  await dialog.getByLabel('It is to stay empty').check();
  await expect(dialog.getByRole('button', { name: /Publish and tell/ })).toBeEnabled();
  await dialog.getByRole('button', { name: 'Leave it' }).click();
  await page.getByRole('button', { name: 'Throw the draft away' }).click();
  await expect(page.getByText('The draft is thrown away')).toBeVisible();
});

test('who applies with what is not here is told before sending; what is asked first is answered in the queue', async ({
  page,
  browser,
}) => {
  const applicant = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await applicant.goto(`${running.address}/join`);
  await applicant.getByLabel('Name', { exact: true }).fill('Kiln Fairs');
  await applicant.getByLabel('E-mail address').fill('stall@kilnfairs.example');
  await applicant.getByRole('combobox', { name: 'Country' }).click();
  await applicant.getByPlaceholder('Type a part of it').fill('Portugal');
  await applicant.keyboard.press('Enter');
  await applicant.getByLabel('Your sites').fill('kilnfairs.example');
  await applicant.getByLabel('How you promote').fill('newsletter');
  await applicant
    .getByLabel('Note', { exact: true })
    .fill('A letter on fairs; now and then we give away a bowl.');
  await expect(
    applicant.getByText(
      'What you wrote speaks of “Giving our clay away as a prize”, which is to be asked first',
    ),
  ).toBeVisible();
  await applicant.getByLabel('Giving our clay away as a prize').check();
  await expect(applicant.getByText('What you wrote speaks of')).toHaveCount(0);
  await expect(applicant.getByText(/Ask first\. We often add something to it\./)).toBeVisible();
  await applicant.getByLabel('Offering our goods on resale sites').check();
  await expect(applicant.getByText(/Not here\. Our seconds are ours to sell\./)).toBeVisible();
  await accessible(applicant);
  await applicant.getByLabel(/I accept the/).check();
  await applicant.getByRole('button', { name: 'Apply' }).click();
  await expect(applicant.getByText('Thank you')).toBeVisible();

  await signIn(page, running.address, 'rui@quernstone.example', '/applications?q=Kiln+Fairs');
  await settled(page);
  await expect(page.getByText('not here: “Offering our goods on resale sites”')).toBeVisible();
  await expect(practice(page, 'Giving our clay away as a prize')).toContainText('ticked, and in its words');
  await accessible(page);
  // by keys alone
  await page.keyboard.press('l');
  await page.getByRole('textbox', { name: /Words/ }).fill('A mug a month.');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(practice(page, 'Giving our clay away as a prize')).toContainText('let in by Rui');
  await expect(practice(page, 'Giving our clay away as a prize')).toContainText('A mug a month.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(practice(page, 'Giving our clay away as a prize')).not.toContainText('A mug a month.');
});

test('the roster finds by practice, and a rule asks for it', async ({ page }) => {
  await signIn(
    page,
    running.address,
    'ines@quernstone.example',
    '/affiliates?state=active&practice=social-ads',
  );
  await settled(page);
  await expect(page.getByRole('row', { name: 'Loam Letters' })).toBeVisible();
  await expect(page.getByText('with “Paid advertising on social networks”')).toBeVisible();
  await goTo(page, '/applications/rules');
  await settled(page);
  await page.keyboard.press('n');
  await page.getByRole('combobox', { name: 'Ways of promoting' }).click();
  await page.getByRole('option', { name: 'something is asked first or not here' }).click();
  await page.getByLabel('Offering our goods on resale sites').check();
  await page.getByRole('combobox', { name: 'Then' }).click();
  await page.getByRole('option', { name: 'leave it to a person' }).click();
  await page.getByRole('button', { name: 'Add the rule' }).click();
  await expect(
    page.getByText('the applicant means to use “Offering our goods on resale sites”: leave it to a person'),
  ).toBeVisible();
});

test('two people at one draft: different practices are both kept, the same one is shown with both answers', async ({
  page,
  browser,
}) => {
  const rui = await (await browser.newContext()).newPage();
  await signIn(page, running.address, 'ines@quernstone.example');
  await signIn(rui, running.address, 'rui@quernstone.example');
  for (const one of [page, rui]) {
    await goTo(one, '/policy');
    await expect(one.getByText('in its notice').first()).toBeVisible();
    await one.keyboard.press('n');
    await expect(one.getByText('14 of 14 answered')).toBeVisible();
  }
  const save = async (one: Page) => one.getByRole('button', { name: 'Save the draft' }).click();
  await answerOf(page, 'Our name in a domain').getByText('ask first').click();
  await answerOf(page, 'E-mail to bought lists').getByText('ask first').click();
  await save(page);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await answerOf(rui, 'Comparing us with rivals').getByText('ask first').click();
  await answerOf(rui, 'E-mail to bought lists').getByText('welcome').click();
  await save(rui);
  const both = rui.getByText(
    'they “E-mail to bought lists: ask first”, you “E-mail to bought lists: welcome”',
  );
  await expect(both).toBeVisible();
  await rui.getByRole('button', { name: 'Take theirs' }).click();
  await save(rui);
  await expect(rui.getByText('Saved', { exact: true })).toBeVisible();
  await rui.reload();
  for (const name of ['Our name in a domain', 'E-mail to bought lists', 'Comparing us with rivals'])
    await expect(answerOf(rui, name).getByLabel('ask first')).toBeChecked();
});

test('a policy of 50,000 characters is taken, one that is longer is named and not cut off', async ({
  page,
}) => {
  await signIn(page, running.address, 'ines@quernstone.example', '/policy');
  await expect(page.getByText('in its notice').first()).toBeVisible();
  await page.keyboard.press('n');
  const terms = page.getByRole('textbox', { name: 'Further terms' });
  await terms.fill('شروط المشاركة '.repeat(5_000));
  await page.getByRole('button', { name: 'Save the draft' }).click();
  await expect(page.getByText('Further terms is too long: at most 60000 characters')).toBeVisible();
  expect((await terms.inputValue()).length).toBe(70_000);
  await terms.fill('شروط المشاركة '.repeat(3_600));
  await page.getByRole('button', { name: 'Save the draft' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Throw the draft away' }).click();
});
