import { afterEach, expect, it, vi } from 'vitest';
import { together } from '../../src/server/ground/db/together';
import { testApp } from '../helpers/app';

const put = (app: ReturnType<typeof testApp>['app'], day: string) =>
  app.sqlite.prepare("INSERT INTO rate_days VALUES ('USD', ?, 1080000)").run(day);
const days = (app: ReturnType<typeof testApp>['app']) =>
  app.sqlite.prepare('SELECT day FROM rate_days ORDER BY day').pluck().all();

afterEach(() => vi.restoreAllMocks());

/** Time that stands still, or goes on by so much whenever it is read. */
function time(step: number): void {
  let now = 0;
  vi.spyOn(performance, 'now').mockImplementation(() => (now += step));
}

it('shares one commit, and one that fails takes only itself back', async () => {
  const { app } = testApp();
  time(0);
  let commits = 0;
  const { transaction } = app;
  app.transaction = (work) => {
    if (!app.sqlite.inTransaction) commits += 1;
    return transaction(work);
  };
  const results = await Promise.allSettled([
    together(app)(() => put(app, '2027-01-01').changes),
    together(app)(() => {
      put(app, '2027-01-02');
      throw new Error('no');
    }),
    together(app)(() => put(app, '2027-01-03').changes),
  ]);
  expect(results.map((r) => r.status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
  expect(days(app)).toEqual(['2027-01-01', '2027-01-03']);
  expect(commits).toBe(1);
  app.close();
});

it('a burst that takes long is written in several commits, whole and in its order', async () => {
  const { app } = testApp();
  // past the time of a transaction after each piece
  time(10);
  let commits = 0;
  const { transaction } = app;
  app.transaction = (work) => {
    if (!app.sqlite.inTransaction) commits += 1;
    return transaction(work);
  };
  const made: string[] = [];
  const all = ['2027-01-01', '2027-01-02', '2027-01-03'];
  await Promise.all(all.map((day) => together(app)(() => put(app, day)).then(() => made.push(day))));
  expect([commits, made, days(app)]).toEqual([3, all, all]);
  app.close();
});

it('one that is alone and fails leaves nothing, and the next goes on', async () => {
  const { app } = testApp();
  await expect(
    together(app)(() => {
      put(app, '2027-01-01');
      throw new Error('no');
    }),
  ).rejects.toThrow('no');
  expect(app.sqlite.inTransaction).toBe(false);
  await together(app)(() => put(app, '2027-01-02'));
  expect(days(app)).toEqual(['2027-01-02']);
  app.close();
});

it('tells nobody that it is done if the commit fails', async () => {
  const { app } = testApp();
  const { transaction } = app;
  app.transaction = (work) => {
    const outer = !app.sqlite.inTransaction;
    return transaction(() => {
      const done = work();
      if (outer) throw new Error('the disk is full');
      return done;
    });
  };
  const results = await Promise.allSettled([
    together(app)(() => put(app, '2027-01-01')),
    together(app)(() => put(app, '2027-01-02')),
  ]);
  expect(results.map((r) => r.status)).toEqual(['rejected', 'rejected']);
  expect(days(app)).toEqual([]);
  app.close();
});

it('every table is strict, and amounts are whole', () => {
  const { app } = testApp();
  const loose = app.sqlite
    .prepare(
      "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE '__drizzle%' AND sql NOT LIKE '%STRICT%' AND name NOT LIKE 'prospect_text%'",
    )
    .pluck()
    .all();
  // a full-text table cannot be
  expect(loose).toEqual([]);
  expect(() => app.sqlite.prepare("INSERT INTO rate_days VALUES ('USD', '2027-01-01', 1.5)").run()).toThrow(
    /cannot store REAL/,
  );
  app.close();
});
