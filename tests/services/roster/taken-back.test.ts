import { beforeEach, expect, it } from 'vitest';
import { bulk, ids, list, names, owner, people, prepare, s, sets, type Fault } from './world';

prepare();

const undo = (id: string) =>
  owner.post<{ done: number; passed: number } & Fault>(`/api/v1/affiliates/bulk/${id}/undo`);
const row = async (name: string) => (await list()).rows.find((r) => r.name === name)!;
const staffId = (role: string) =>
  s.app.sqlite.prepare('SELECT id FROM staff WHERE role = ?').pluck().get(role) as string;

beforeEach(async () => {
  await bulk('tag-off', sets.video!, { filter: {} });
  await bulk('group', null, { filter: {} });
  await bulk('resume', null, { filter: {} });
});

it('a tag that was taken from many comes back to those who have had it since', async () => {
  await bulk('tag-on', sets.video!, ids('Ada', 'Bram', 'Celia'));
  const off = await bulk('tag-off', sets.video!, ids('Ada', 'Bram', 'Dora'));
  expect(off.body).toMatchObject({ done: 2 });
  expect(await names(`tag=${sets.video}`)).toEqual(['Celia']);
  await bulk('tag-on', sets.video!, ids('Bram'));
  expect((await undo(off.body.id)).body).toEqual({ done: 1, passed: 1, later: null });
  expect(await names(`tag=${sets.video}`)).toEqual(['Ada', 'Bram', 'Celia']);
});

it('who was resumed is paused again, and who is moved to a card goes back to its own', async () => {
  await bulk('pause', null, ids('Ada', 'Bram'));
  const resumed = await bulk('resume', null, ids('Ada', 'Bram', 'Celia'));
  expect(resumed.body).toMatchObject({ done: 2, passed: 0 });
  expect((await undo(resumed.body.id)).body).toEqual({ done: 2, passed: 0, later: null });
  expect(await names('state=paused')).toEqual(['Ada', 'Bram']);

  const onCard = async () => await names(`card=${sets.Makers}`);
  const before = await onCard();
  const moved = await bulk('card', sets.Makers!, ids('Celia', 'Dora'));
  expect(await onCard()).toEqual([...new Set([...before, 'Celia', 'Dora'])].sort());
  await undo(moved.body.id);
  expect(await onCard()).toEqual(before);
});

it('kind and who looks after them are set for many, and taken back to what each had', async () => {
  await bulk('kind', 'podcast', ids('Ada'));
  const kinds = await bulk('kind', 'newsletter', ids('Ada', 'Bram'));
  expect([(await row('Ada')).kind, (await row('Bram')).kind]).toEqual(['newsletter', 'newsletter']);
  await undo(kinds.body.id);
  expect([(await row('Ada')).kind, (await row('Bram')).kind]).toEqual(['podcast', 'blog']);

  const looked = await bulk('looked-after', staffId('owner'), ids('Ada', 'Celia'));
  expect(looked.body.done).toBe(2);
  expect((await bulk('looked-after', staffId('owner'), ids('Ada'))).body).toMatchObject({
    done: 0,
    id: null,
  });
  await undo(looked.body.id);
  expect((await row('Celia')).lookedAfter).toBeNull();
});

it.each([
  ['kind', 'juggling', /Kind: “juggling” is not known/],
  ['looked-after', 'stf_none', /not of the staff/],
  ['group', 'set_none', /This group does not exist any more/],
  ['card', 'set_none', /This card does not exist any more/],
  ['tag-on', 'set_none', /This tag does not exist any more/],
])('%s to %s is refused at its field, and nobody is changed', async (what, to, said) => {
  const before = await list();
  const answer = await bulk(what, to, ids('Ada', 'Bram'));
  expect([answer.status, answer.body.errors[0]!.pointer]).toEqual([422, '/to']);
  expect(answer.body.errors[0]!.detail).toMatch(said);
  expect(await list()).toEqual(before);
});

it('an act needs somebody; one that never was, and one that was taken back, are not taken back', async () => {
  expect((await bulk('pause', null, {})).body.errors[0]).toMatchObject({
    pointer: '/ids',
    detail: 'Affiliates: nobody is named',
  });
  expect((await undo('blk_none')).status).toBe(404);
  const act = await bulk('pause', null, ids('Dora'));
  expect((await undo(act.body.id)).status).toBe(200);
  expect((await undo(act.body.id)).body).toMatchObject({
    code: 'conflict',
    detail: 'This was taken back already',
  });
});

it('what is sorted at one affiliate is told to whoever had the form open', async () => {
  const { id } = people.Ada!;
  const { version } = (await owner.get<{ version: number }>(`/api/v1/affiliates/${id}`)).body;
  const put = (more: object) =>
    owner.put<{ version: number } & Fault>(`/api/v1/affiliates/${id}/sorting`, more);
  expect((await put({ kind: 'events', version })).body).toEqual({ version: version + 1 });
  const late = await put({ kind: 'podcast', version });
  expect([late.status, late.body.code]).toEqual([409, 'stale']);
  expect((await put({ kind: 'juggling', version: version + 1 })).body.errors[0]!.pointer).toBe('/kind');
  expect((await row('Ada')).kind).toBe('events');
});
