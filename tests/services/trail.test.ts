import { afterAll, beforeAll, expect, it } from 'vitest';
import type { App } from '../../src/server/ground/context';
import { listHistory } from '../../src/server/recruit/roster/history';
import { record } from '../../src/server/registers/access/audit';
import { pageOfAudit } from '../../src/server/registers/access/trail';
import { testApp } from '../helpers/app';

let app: App;
const sources: string[] = [];
beforeAll(() => {
  ({ app } = testApp());
  const prepare = app.sqlite.prepare.bind(app.sqlite);
  app.sqlite.prepare = ((source: string) => {
    sources.push(source);
    return prepare(source);
  }) as typeof app.sqlite.prepare;
  const actor = { kind: 'staff' as const, id: 'stf_nobody' as const };
  app.transaction(() => {
    for (let n = 0; n < 3000; n += 1) {
      const own = n % 10 === 0;
      // of every second of its own something of its, not itself, is the subject
      record(app, actor, 'thing-done', {
        subject: own && n % 20 === 0 ? 'aff_own' : `thing_${n}`,
        before: null,
        after: own && n % 20 !== 0 ? { affiliate: 'aff_own', n } : { n },
      });
    }
  });
  app.sqlite.exec('ANALYZE');
});
afterAll(() => app.close());

it('an affiliate’s history is whole over its pages, each entry once, newest first', () => {
  const ids: string[] = [];
  let after: string | undefined;
  do {
    const { rows, next } = listHistory(
      app,
      'aff_own',
      after === undefined ? { limit: 70 } : { limit: 70, after },
    );
    ids.push(...rows.map((r) => r.id));
    after = next ?? undefined;
  } while (after !== undefined);
  expect(ids).toHaveLength(300);
  expect(new Set(ids).size).toBe(300);
  const whole = app.sqlite
    .prepare(
      "SELECT id FROM audit WHERE subject = 'aff_own' OR json_extract(after, '$.affiliate') = 'aff_own' ORDER BY at DESC, id DESC",
    )
    .pluck()
    .all();
  expect(ids).toEqual(whole);
});

it('no page of it walks through what was ever done', () => {
  const { next } = listHistory(app, 'aff_own', { limit: 5 });
  listHistory(app, 'aff_own', { limit: 5, after: next! });
  pageOfAudit(app, undefined, { limit: 5, after: next! });
  const later = sources.filter((s) => /from "audit"/i.test(s) && s.includes(') < ('));
  const planOf = (about: boolean) =>
    later
      .filter((s) => s.includes('json_extract') === about)
      .flatMap((source) =>
        app.sqlite
          .prepare<unknown[], { detail: string }>(`EXPLAIN QUERY PLAN ${source}`)
          .all(...Array.from({ length: source.split('?').length - 1 }, () => 1))
          .map((r) => r.detail),
      )
      .join();
  expect(planOf(true)).toMatch(/audit_subject.*audit_affiliate/);
  expect(planOf(true)).not.toContain('audit_at');
  // all of it, on the other hand, is read in its order
  expect(planOf(false)).toContain('audit_at');
});
