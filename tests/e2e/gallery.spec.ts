import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { build, preview, type PreviewServer } from 'vite';
import { root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';
import { accessible, pick } from './helpers';

let server: PreviewServer;
let page: Page;
const said: string[] = [];

test.beforeAll(async ({ browser }) => {
  await build({ configFile: join(root, 'vite.config.ts'), mode: 'gallery', logLevel: 'error' });
  const port = await freePorts();
  server = await preview({
    configFile: join(root, 'vite.config.ts'),
    build: { outDir: join(root, 'dist/gallery') },
    preview: { host: '127.0.0.1', port, strictPort: true },
  });
  page = await (await browser.newContext()).newPage();
  page.on('console', (message) => {
    if (message.type() === 'error') said.push(message.text());
  });
  page.on('pageerror', (fault) => said.push(fault.message));
  await page.goto(`http://127.0.0.1:${port}/gallery/index.html`);
});
test.afterAll(() => server.close());

const kit = (file: string) => page.locator(`[data-kit="${file}"]`);

test('every part of the kit that draws something is shown', async () => {
  const folder = join(root, 'src/web/kit');
  const files = readdirSync(folder)
    .filter(
      (f) => f.endsWith('.tsx') && /export (default )?function/.test(readFileSync(join(folder, f), 'utf8')),
    )
    .map((f) => f.replace('.tsx', ''));
  expect(files.length).toBeGreaterThan(25);
  const shown = await page
    .locator('[data-kit]')
    .evaluateAll((all) => all.map((s) => s.getAttribute('data-kit')));
  expect(files.filter((f) => !shown.includes(f))).toEqual([]);
  expect(said).toEqual([]);
});

test('no state of it has a serious fault of accessibility', async () => {
  await accessible(page, { colours: true });
});

test('what is under way takes no second click, whatever else would let it', async () => {
  const approve = kit('button').getByRole('button', { name: 'Approve' });
  await expect(approve.first()).toBeEnabled();
  await expect(approve.last()).toBeDisabled();
  await expect(approve.last()).toHaveAttribute('aria-busy', 'true');
});

test('a day is typed as people write it, or picked from a month', async () => {
  const day = kit('day-input').getByLabel('Day', { exact: true });
  await day.fill('31 feb');
  await day.press('Tab');
  await expect(kit('day-input').getByRole('alert')).toHaveText(
    '“31 feb” is not a day of the calendar; write it like 12 Mar 2027.',
  );
  await day.fill('5 apr 2027');
  await expect(kit('day-input').getByRole('alert')).toHaveCount(0);
  await day.press('Tab');
  await expect(day).toHaveValue('5 Apr 2027');
  // the focus is on the calendar of the field now
  await page.keyboard.press('Enter');
  const month = page.getByRole('dialog', { name: 'Calendar' });
  await expect(month.getByText('April 2027')).toBeVisible();
  // the arrow is for the day that the month begins from, once that has the focus
  await expect(month.locator('[role=gridcell] :focus')).toHaveCount(1);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(day).toHaveValue('6 Apr 2027');
  await day.fill('tomorrow');
  await day.press('Enter');
  await expect(day).toHaveValue('13 Mar 2027');
  await day.fill('4/5/2027');
  await day.press('Tab');
  await expect(kit('day-input').getByRole('alert')).toContainText('can be read as two days');
});

test('one of some is picked by its words, one of many by a part of them', async () => {
  const some = kit('select').getByLabel('Card', { exact: true });
  await pick(some, 'Makers');
  await expect(some).toHaveText('Makers');
  await some.press('Enter');
  await expect(page.getByRole('option', { name: 'Makers' })).toBeFocused();
  await page.keyboard.press('m');
  await expect(page.getByRole('option', { name: 'Media' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(some).toHaveText('Media');
  const many = kit('combobox').getByLabel('Days', { exact: true });
  await many.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type('3');
  await expect(page.getByRole('option').first()).toHaveText('3 days');
  await page.keyboard.press('Enter');
  await expect(many).toHaveText('3 days');
  await many.click();
  await page.keyboard.type('forty');
  await expect(page.getByText('None of them has this in its name.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(many).toHaveText('3 days');
});

test('letters pick in a choice, and are no keys of the place', async () => {
  const some = kit('select').getByLabel('Card', { exact: true });
  await some.focus();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('heading', { name: 'The kit' }).click();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog').getByText('next product')).toBeVisible();
  await page.keyboard.press('Escape');
});

test('a form is not sent with the day that stood there before what is none', async () => {
  const form = kit('day-input').locator('form');
  const day = form.getByLabel('Paid until');
  await day.fill('31 feb');
  await day.press('Enter');
  await expect(form.getByRole('alert')).toContainText('is not a day of the calendar');
  await form.getByRole('button', { name: 'Send' }).click();
  await expect(day).toBeFocused();
  await expect(form.getByRole('status')).toHaveText('sent:');
  // a day without its year counts when the form is sent
  await day.fill('5 apr');
  await day.press('Enter');
  await expect(form.getByRole('status')).toHaveText('sent: 2027-04-05');
  await day.fill('');
  await day.press('Enter');
  await expect(form.getByRole('status')).toHaveText('sent: 2027-04-05, none');
});

test('a day that cannot be emptied comes back when it is left empty', async () => {
  const day = kit('day-input').getByLabel('Always');
  await day.fill('');
  await expect(day).toHaveValue('');
  await day.press('Tab');
  await expect(day).toHaveValue('12 Mar 2027');
  await day.fill('');
  await day.pressSequentially('1 may 2027');
  await day.press('Tab');
  await expect(day).toHaveValue('1 May 2027');
});

test('of two that are called the same the one that is marked is picked', async () => {
  const twins = kit('combobox').getByLabel('Twins');
  await twins.focus();
  await page.keyboard.type('rib');
  await expect(page.getByRole('option')).toHaveCount(2);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(kit('combobox').getByRole('status')).toHaveText('second');
});
