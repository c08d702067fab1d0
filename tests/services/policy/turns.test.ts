import { expect, it } from 'vitest';
import { closeInTurns, closeNotice } from '../../../src/server/setup/policy/close';
import { tellInTurns, tellSome } from '../../../src/server/setup/policy/tell';
import { accept, bob, owner, prepare, publish, s, type Policy } from './world';

prepare();

const told = (kind: string) =>
  s.app.sqlite
    .prepare('SELECT to_address FROM messages WHERE kind = ? ORDER BY to_address')
    .pluck()
    .all(kind) as string[];
const both = ['bobbisque@bobbisque.example', 'loamletters@loamletters.example'];
const newest = async () =>
  (
    await owner.get<{ rows: (Policy & { closedFor: number | null; closedAt: number | null })[] }>(
      '/api/v1/policies',
    )
  ).body.rows[0]!;

it('a version is told one after the other, each once, whenever it goes on', async () => {
  await publish({ general: 'Mark links.' });
  expect(told('policy')).toEqual(both);
  // as where it was interrupted before the first
  s.app.sqlite.exec("DELETE FROM messages WHERE kind = 'policy'; UPDATE policies SET told_to = ''");
  expect([tellSome(s.app, 1), told('policy').length]).toEqual([1, 1]);
  await tellInTurns(s.app);
  expect(told('policy')).toEqual(both);
  expect(tellSome(s.app, 1)).toBe(0);
});
it('who accepts before it is its turn is not told any more', async () => {
  const p = await publish({ general: 'Mark every link.' });
  s.app.sqlite.exec(
    `DELETE FROM messages WHERE kind = 'policy'; UPDATE policies SET told_to = '' WHERE id = '${p.id}'`,
  );
  await accept(bob, p.id);
  await tellInTurns(s.app);
  expect(told('policy')).toEqual(['loamletters@loamletters.example']);
});
it('the end of a notice meets one after the other, and is over when all were met', async () => {
  await publish({ general: 'Mark each and every link.', atEnd: 'pause' });
  s.days(40);
  expect(closeNotice(s.app, 1)).toBe(1);
  expect(await newest()).toMatchObject({ closedFor: 1, closedAt: null });
  await closeInTurns(s.app);
  expect(await newest()).toMatchObject({ closedFor: 2, closedAt: expect.any(Number) as number });
  expect(told('policy-reminder')).toEqual(both);
  expect(closeNotice(s.app)).toBe(0);
  expect(
    s.app.sqlite
      .prepare(
        "SELECT count(*) FROM audit WHERE action = 'affiliate-moved' AND after LIKE '%has not accepted version 3%'",
      )
      .pluck()
      .get(),
  ).toBe(2);
});
