import { expect, test, type Page } from '@playwright/test';
import { partnerAt } from '../../src/standins/partners';
import { accessible, goTo, moveClock, pick, picture, run, settled, signIn, type Running } from './helpers';

let running: Running;
test.beforeAll(async () => {
  running = await run('demo');
});
test.afterAll(async () => {
  await running.stop();
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
  await page.getByRole('row', { name: other.name }).click();
  await expect(page.getByRole('heading', { name: other.name })).toBeVisible();
  await expect(page.getByText('Never invited.')).toBeVisible();
  await accessible(page);
}

/** A partner found by its id gets a new tag. */
async function tags(page: Page, partner: { id: string; name: string }): Promise<void> {
  await goTo(page, `/prospects?q=${partner.id}`);
  await expect(page.getByRole('row', { name: partner.name })).toContainText('by its id');
  await page.getByLabel(`Select ${partner.name}`).click();
  await page.keyboard.press('t');
  await page.getByRole('dialog').getByLabel('or a new one').fill('spring fair');
  await page.getByRole('dialog').getByRole('button', { name: 'Tag', exact: true }).click();
  await expect(page.getByText('Tagged: 1')).toBeVisible();
}

/** The first five of a word are invited together, with a group and a tag. @returns their names */
async function invitesFive(page: Page, word: string): Promise<string[]> {
  await goTo(page, `/prospects?q=${word}&state=never`);
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
        await settled(page);
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
  await goTo(page, '/affiliates?sort=newest&columns=group,tags,kind');
  for (const n of names)
    await expect(page.getByRole('row', { name: n })).toContainText(/Studio circle.*spring fair/);
});
