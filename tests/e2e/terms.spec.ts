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

const cell = (row: string, column: string) =>
  page.getByRole('gridcell', { name: new RegExp(`^${row}, ${column}: `) });
const margin = () => page.getByRole('complementary', { name: 'Margin' });

test('a recurring product with a trial and another rate for renewals', async () => {
  await goTo(page, '/products/new');
  await pick(page.getByLabel('Kind of sale'), 'Renews: a subscription or a yearly plan');
  await page.getByLabel('Name', { exact: true }).fill('Clay box');
  await page.getByLabel('Description', { exact: true }).fill('Two bags of clay a month.');
  await page.getByRole('textbox', { name: 'First payment' }).fill('9.00');
  await page.getByLabel('Renewal price').fill('a lot');
  await page.getByLabel('Trial').fill('14');
  await page.getByRole('textbox', { name: 'Percent' }).fill('50');
  await pick(page.getByLabel('On renewals'), 'Percent of the sale');
  await page.getByRole('textbox', { name: 'Percent' }).nth(1).fill('10');
  await page.getByLabel('Sales page').fill('https://shop.quernstone.example/p/CLAY-BOX');
  await page.getByRole('button', { name: 'Create the draft' }).click();
  await expect(page.getByText('Renewal price: “a lot” is not an amount')).toBeVisible();
  // what is typed survives a reload
  await page.reload();
  await expect(page.getByText('What you typed last time and did not save is here again.')).toBeVisible();
  await page.getByLabel('Renewal price').fill('18.00');
  await expect(margin().getByText('Each renewal').first()).toBeVisible();
  await page.getByRole('button', { name: 'Create the draft' }).click();
  await expect(page.getByText('Clay box is a draft')).toBeVisible();
  await page.getByRole('button', { name: 'Put live' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Put live' }).click();
  await expect(page.getByText('Clay box is live')).toBeVisible();
  await accessible(page);
  await goTo(page, '/rates?event=renewal');
  await expect(cell('Clay box', 'Everyone')).toHaveText('10 %');
  await goTo(page, '/rates');
  await expect(cell('Clay box', 'Everyone')).toHaveText('50 %');
});

test('a funnel, with a special rate on one step', async () => {
  await goTo(page, '/products/funnels');
  await page.getByRole('button', { name: 'New funnel' }).click();
  await page.getByLabel('Name', { exact: true }).fill('After the kiln');
  await pick(page.getByLabel('Opens with'), 'Small kiln');
  await pick(page.getByLabel('One more offer'), 'Tool roll');
  await pick(page.getByLabel('One more offer'), 'Split apron');
  // a way back is refused before it can be saved
  await pick(page.getByLabel('On yes').nth(1), 'to Tool roll');
  await expect(page.getByText('Buyers would go round in a circle')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Create the funnel' })).toBeDisabled();
  await pick(page.getByLabel('On yes').nth(1), 'finish');
  // the order is changed by keys as well as by dragging
  await page.getByRole('button', { name: 'Offer 2 up' }).click();
  await page.getByLabel('Price here').first().fill('39.00');
  await page.getByRole('button', { name: 'Create the funnel' }).click();
  await expect(page.getByRole('heading', { name: 'After the kiln' })).toBeVisible();
  await accessible(page);
  await goTo(page, '/rates');
  const step = page
    .getByRole('row', { name: /Split apron apron-1-1/ })
    .getByRole('gridcell')
    .first();
  await step.click();
  await page.keyboard.type('25');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Draft, 1 change')).toBeVisible();
  await page.keyboard.press('s');
  await page.getByRole('dialog').getByRole('button', { name: 'Save, from now on' }).click();
  await expect(page.getByText(/1 change saved/)).toBeVisible();
  await expect(step).toHaveText('25 %');
  await expect(margin().getByText('25 %, decides')).toBeVisible();
});

test('why an affiliate got 8 % and not 12 %', async () => {
  await goTo(page, '/sales?q=Handle+With');
  await goTo(page, '/rates');
  await page.getByRole('button', { name: 'Add an affiliate' }).click();
  await page.getByPlaceholder('Name, handle or site').fill('Handle');
  await page.getByRole('option', { name: /Handle With Care/ }).click();
  await cell('Split apron', 'Handle With Care').click();
  await expect(cell('Split apron', 'Handle With Care')).toHaveText('12 %');
  await expect(margin().getByText('12 %, decides')).toBeVisible();
  await expect(margin().getByText(/card Makers/)).toBeVisible();
  // on the day of the sale the card was another one
  await page.getByRole('button', { name: /^As of the day/ }).click();
  await page.getByRole('dialog').getByLabel('As of the day').fill('2027-01-10');
  await page.keyboard.press('Escape');
  await cell('Split apron', 'Handle With Care').click();
  await expect(cell('Split apron', 'Handle With Care')).toHaveText('8 %');
  await expect(margin().getByText('no rate on the card')).toBeVisible();
  await expect(margin().getByText('8 %, decides')).toBeVisible();
  await expect(margin().getByText(/card Standard/)).toBeVisible();
});

test('an uplift for a week, planned and taken back', async () => {
  await goTo(page, '/rates');
  await cell('Everything', 'Everyone').click();
  await page.keyboard.press('u');
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Percent' }).fill('15');
  await dialog.getByLabel('Name, for your eyes only').fill('Spring fair');
  await dialog.getByLabel('Begins', { exact: true }).fill('2027-04-05');
  await dialog.getByLabel('Ends, exclusive', { exact: true }).fill('2027-04-03');
  await dialog.getByRole('button', { name: 'Put into the draft' }).click();
  await expect(dialog.getByText('The end is not after the start')).toBeVisible();
  await dialog.getByLabel('Ends, exclusive', { exact: true }).fill('2027-04-12');
  await pick(dialog.getByLabel('Ends, exclusive, time'), '18:15');
  await dialog.getByRole('button', { name: 'Put into the draft' }).click();
  await expect(page.getByText('Draft, 1 change')).toBeVisible();
  await page.getByRole('button', { name: /^Save…/ }).click();
  // what the button and the message say is when it begins, not when it is saved
  await page.getByRole('dialog').getByRole('button', { name: 'Save, from 5 Apr 2027, 00:00' }).click();
  await expect(page.getByText('1 change saved, from 5 Apr 2027, 00:00')).toBeVisible();
  await goTo(page, '/rates?day=2027-04-08');
  await expect(cell('Everything', 'Everyone')).toHaveText('15 %');
  await expect(page.getByText('raised for a time')).toBeVisible();
  await goTo(page, '/rates?day=2027-04-14');
  await expect(cell('Everything', 'Everyone')).toHaveText('8 %');
  await goTo(page, '/rates/timeline?state=coming');
  await expect(page.getByText('Spring fair: up to 15 %')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: /Undo Spring fair/ }).click();
  await expect(page.getByText('Taken back: it will not begin')).toBeVisible();
  await goTo(page, '/rates?day=2027-04-08');
  await expect(cell('Everything', 'Everyone')).toHaveText('8 %');
});

test('what a raise for one group would have cost, by keys alone', async () => {
  await goTo(page, '/rates');
  await cell('Split apron', 'Studio circle').click();
  await page.keyboard.type('18');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/12.5 % → 18 %/)).toBeVisible();
  await expect(page.getByText(/the last .* lines: €\d/)).toBeVisible();
  await accessible(page);
  await picture(page, 'rate-book');
  await page.keyboard.press('r');
  await page.keyboard.press('Tab');
  await page.getByRole('dialog').getByRole('button', { name: 'Rehearse', exact: true }).press('Enter');
  await expect(page.getByRole('heading', { name: /The draft would have cost €[\d.,]+ more/ })).toBeVisible();
  await expect(page.getByText('Nobody. No notice is asked for on this ground.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'Ochre Lane Teachers' })).toBeVisible();
  await page
    .getByRole('row', { name: /Split apron/ })
    .nth(1)
    .getByRole('button')
    .click();
  await expect(margin().getByText('As it was granted')).toBeVisible();
  await expect(margin().getByText('18 %, decides')).toBeVisible();
  await accessible(page);
  await picture(page, 'rehearsal');
  // the result is kept with the draft, and survives a reload
  await page.reload();
  await expect(page.getByRole('heading', { name: /The draft would have cost/ })).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(page.getByText('The draft is thrown away')).toBeVisible();
});

test('a group: pasted members, before and after, removed and taken back', async () => {
  await goTo(page, '/rates/sets');
  await page.getByRole('link', { name: 'Classrooms' }).click();
  await page.getByRole('button', { name: 'Paste a list…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Affiliates').fill(' pinch-pot-club ,kiln-diaries\nnobody-here\npinch-pot-club');
  await dialog.getByRole('button', { name: 'See what it would do' }).click();
  await expect(dialog.getByText('1 added · 1 in another · 1 named twice · 1 unknown')).toBeVisible();
  await expect(dialog.getByText('in another: Studio circle')).toBeVisible();
  await dialog.getByLabel('keep them there').check();
  await accessible(page);
  // it would earn less there: said before, and it comes when the notice is over
  await expect(dialog.getByRole('note')).toContainText('would earn less');
  await dialog.getByRole('button', { name: 'Add 1' }).click();
  await expect(
    page.getByText('0 at once, 1 moves on 26 Mar 2027, after the notice, 1 kept where they are, 1 unknown'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Remove…' }).click();
  await expect(page.getByRole('dialog').getByText(/Nobody leaves the programme/)).toBeVisible();
  await expect(page.getByRole('dialog').getByRole('cell', { name: 'Tool roll' }).first()).toBeVisible();
  // its members would earn less: the notice is said, and the rates are ended first
  await expect(page.getByRole('dialog').getByRole('note')).toContainText('Somebody would earn less');
  await expect(page.getByRole('button', { name: 'Remove Classrooms' })).toBeDisabled();
  await page.getByRole('dialog').getByRole('button', { name: 'Leave it' }).click();
  await page.getByRole('button', { name: 'New group' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Guild');
  await page.getByRole('dialog').getByRole('button', { name: 'Create' }).click();
  await expect(page.getByRole('heading', { name: 'Guild' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove…' }).click();
  await page.getByRole('button', { name: 'Remove Guild' }).click();
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByText('Guild is back')).toBeVisible();
});

test('one affiliate’s card is changed from its own page, before and after shown', async () => {
  await goTo(page, '/affiliates?q=Slip+Trail');
  await page.getByRole('row', { name: 'Slip Trail' }).click();
  await page.getByRole('button', { name: 'change card, group and tags' }).click();
  const dialog = page.getByRole('dialog');
  await pick(dialog.getByLabel('Rate card'), 'Media');
  await expect(dialog.getByRole('row', { name: /Split apron 12 % 10 %/ })).toBeVisible();
  await dialog.getByRole('button', { name: 'Change on 26 Mar 2027' }).click();
  await expect(
    page.getByText('Slip Trail: changes take effect on 26 Mar 2027, after the notice'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByText('Taken back')).toBeVisible();
});
