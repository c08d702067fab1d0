import { afterAll, beforeAll, expect, it } from 'vitest';
import type { TodayOut } from '../../../src/contract/lookback/today';
import type { App } from '../../../src/server/ground/context';
import { answer, type Reading } from '../../../src/server/ground/reading/readings';
import { troubles } from '../../../src/server/lookback/today/today';
import { readings } from '../../../src/server/reading/readings';
import { listMembers } from '../../../src/server/setup/terms/member-list';
import { readRateBook } from '../../../src/server/setup/terms/ratebook';
import { listSets } from '../../../src/server/setup/terms/sets';
import { demoApp } from '../../helpers/app';

let app: App;
beforeAll(() => {
  app = demoApp();
});
afterAll(() => app.close());

const ask = <T>(name: string, input: object): T =>
  answer(app, readings.get(name) as Reading<object, T>, input);

/** How many rows a list has, over all of its pages. */
function rowsOf(name: string, query: object): number {
  let count = 0;
  let after: string | null | undefined;
  do {
    const page = ask<{ rows: unknown[]; next: string | null }>(name, {
      ...query,
      limit: 100,
      ...(after ? { after } : {}),
    });
    count += page.rows.length;
    after = page.next;
  } while (after);
  return count;
}

/** The list behind a link of the desk; null for a page that is none. */
function listBehind(to: string): { name: string; query: Record<string, string> } | null {
  const { pathname, searchParams } = new URL(to, 'http://desk.example');
  const query = Object.fromEntries(searchParams);
  const lists: Record<string, string> = {
    '/affiliates': 'roster',
    '/applications': 'applications',
    '/creatives': 'creatives',
    '/coupons': 'coupons',
  };
  return lists[pathname] ? { name: lists[pathname], query } : null;
}

it('every number of Today that leads to a list is as many as the list has rows', () => {
  const today = ask<TodayOut>('today', { troubles: troubles(app) });
  const compared: string[] = [];
  const compare = (what: string, count: number, to: string) => {
    const list = listBehind(to);
    if (!list) return;
    expect([what, rowsOf(list.name, list.query)]).toEqual([what, count]);
    compared.push(what);
  };
  for (const [state, n] of Object.entries(today.people!.affiliates))
    compare(`affiliates ${state}`, n, `/affiliates?state=${state}&only=promoters`);
  for (const [state, n] of Object.entries(today.people!.applications))
    compare(`applications ${state}`, n, `/applications?state=${state}`);
  for (const w of today.waiting)
    compare(w.text, w.count, w.to === '/applications' ? '/applications?state=waiting' : w.to);
  expect(compared.length).toBeGreaterThan(7);
});

it('the members of each set, and of each column of the rate book, are as many as their list has; cards sum to everyone', () => {
  const { rows } = listSets(app);
  const all = (id: (typeof rows)[number]['id']) => {
    let count = 0;
    let after: string | null = null;
    do {
      const page: ReturnType<typeof listMembers> = listMembers(app, id, {
        limit: 50,
        ...(after ? { after } : {}),
      });
      count += page.rows.length;
      after = page.next;
    } while (after);
    return count;
  };
  for (const set of rows) expect([set.name, set.members]).toEqual([set.name, all(set.id)]);
  const { columns } = readRateBook(app, { kind: 'staff', id: 'stf_none' }, {});
  for (const c of columns.filter((x) => x.of !== 'everyone'))
    expect([c.name, c.members]).toEqual([c.name, rows.find((s) => s.id === c.id)!.members]);
  const everyone = columns.find((c) => c.of === 'everyone')!.members;
  const onCards = rows.filter((s) => s.of === 'card').reduce((sum, s) => sum + s.members, 0);
  expect([onCards, everyone > 0]).toEqual([everyone, true]);
});

it('the count beside a search is of what was found', () => {
  type Page = { rows: { name: string }[]; counts: Record<string, number> };
  const all = ask<Page>('applications', {});
  const q = all.rows[0]!.name;
  const found = ask<Page>('applications', { q });
  expect([found.counts.waiting, rowsOf('applications', { q })]).toEqual([
    found.rows.length,
    found.rows.length,
  ]);
  expect(all.counts.waiting).toBeGreaterThan(found.counts.waiting!);
});
