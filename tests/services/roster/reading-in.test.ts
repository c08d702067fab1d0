import { describe, expect, it } from 'vitest';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { ids, list, owner, people, prepare, s, type Fault, type Row } from './world';

prepare();

interface Line {
  line: number;
  said: string;
  name: string;
  outcome: 'new' | 'change' | 'same' | 'wrong';
  why: string;
}
interface Done {
  added: number;
  changed: number;
  same: number;
  wrong: number;
  next: number | null;
}
const listed = (...lines: string[]) =>
  ['handle,email,name,country,site,group,tags,kind', ...lines].join('\n');
const look = async (csv: string) =>
  (await owner.post<{ lines: Line[] } & Fault>('/api/v1/affiliates/import/preview', { csv })).body;
const readIn = async (csv: string, more: object = {}) =>
  (
    await owner.post<Done & Fault>('/api/v1/affiliates/import', {
      csv,
      from: 0,
      most: 300,
      tell: false,
      ...more,
    })
  ).body;
/** What each line of a list would do, in its order. */
const judged = async (...lines: string[]) =>
  (await look(listed(...lines))).lines
    .sort((a, b) => a.line - b.line)
    .map((l) => `${l.outcome}${l.why ? `: ${l.why}` : ''}`);
const row = async (email: string) => (await list(`q=${email}`)).rows[0]!;
const count = (what: string) => s.app.sqlite.prepare(`SELECT count(*) FROM ${what}`).pluck().get() as number;

describe('a line of somebody we know', () => {
  it('is the same where it says nothing new, by handle or by address, in whatever case', async () => {
    const ada = await row('ada@ada.example');
    const handle = s.app.sqlite
      .prepare('SELECT handle FROM affiliates WHERE id = ?')
      .pluck()
      .get(ada.id) as string;
    expect(await judged(`${handle.toUpperCase()},,,,,,,`)).toEqual(['same']);
    expect(await judged(',ADA@ada.example,Ada,pt,,,,')).toEqual(['same']);
  });
  it('names each field that it would change', async () => {
    expect(
      await judged(
        ',ada@ada.example,Ada of the Hill,,,,,',
        ',bram@bram.example,,ES,,,,',
        ',celia@celia.example,,,celia.example/shop,Circle,video,podcast',
      ),
    ).toEqual(['change: name', 'change: country', 'change: kind, site, group, tags']);
  });
  it('writes them, and nothing that it does not say', async () => {
    const csv = listed(',celia@celia.example,,,celia.example/shop,Circle,video,podcast');
    expect(await readIn(csv)).toMatchObject({ added: 0, changed: 1, same: 0, wrong: 0, next: null });
    expect(await row('celia@celia.example')).toMatchObject({
      name: 'Celia',
      group: { name: 'Circle' },
      tags: [{ name: 'video' }],
      kind: 'podcast',
    } satisfies Partial<Row>);
    const sites = s.app.sqlite
      .prepare("SELECT sites FROM affiliates WHERE email = 'celia@celia.example'")
      .pluck()
      .get() as string;
    expect(JSON.parse(sites)).toEqual(['celia.example', 'celia.example/shop']);
    // once more, it changes nothing: neither a second site nor a second place
    expect(await readIn(csv)).toMatchObject({ changed: 0, same: 1 });
  });
  it('who is blocked is not touched', async () => {
    const { id, version } = (
      await owner.get<{ id: string; version: number }>(`/api/v1/affiliates/${people.Dora!.id}`)
    ).body;
    await owner.post(`/api/v1/affiliates/${id}/state`, {
      state: 'blocked',
      reason: 'Own purchases',
      version,
    });
    expect(await judged(',dora@dora.example,Dora anew,,,,,')).toEqual(['wrong: Dora is blocked']);
    expect(await readIn(listed(',dora@dora.example,Dora anew,,,,,'))).toMatchObject({ changed: 0, wrong: 1 });
    expect((await row('dora@dora.example')).name).toBe('Dora');
  });
});

describe('a line that is wrong', () => {
  it.each([
    [',,Nobody,PT,,,,', /neither|handle|e-mail/i],
    ['nobody-has-this,,X,PT,,,,', /^nobody has the handle “nobody-has-this”$/],
    [',x@x.example,,PT,,,,', /^is new, and has no name$/],
    [',x@x.example,X,,,,,', /^is new, and has no country, such as PT$/],
    [',x@x.example,X,Portugal,,,,', /Portugal/],
    [',not an address,X,PT,,,,', /^“not an address” is not an e-mail address/],
    [',x@x.example,X,PT,,,,wizard', /wizard/],
    [',x@x.example,X,PT,,Nowhere,,', /^there is no group nowhere; make it first$/],
    [',x@x.example,X,PT,,,"video; nothing",', /^there is no tag nothing; make it first$/],
    [',x@x.example,X,PT,,Nowhere,nothing,', /^there is no group nowhere and no tag nothing; make it first$/],
  ])('%s says why', async (line, why) => {
    const [only] = (await look(listed(line))).lines;
    expect(only!.outcome).toBe('wrong');
    expect(only!.why).toMatch(why);
  });
  it('one whose handle and address are those of two people would mix them up', async () => {
    const handle = s.app.sqlite
      .prepare('SELECT handle FROM affiliates WHERE id = ?')
      .pluck()
      .get(people.Ada!.id) as string;
    expect(await judged(`${handle},bram@bram.example,,,,,,`)).toEqual([
      'wrong: handle and e-mail address belong to two different affiliates',
    ]);
  });
  it('somebody who stands there twice is taken once', async () => {
    expect(await judged(',twin@twin.example,Twin,PT,,,,', ',TWIN@twin.example,Other,PT,,,,')).toEqual([
      'new: is let in, after hold',
      'wrong: stands on line 2 already',
    ]);
  });
  it('leaves the others as they are: what is right is read in', async () => {
    const done = await readIn(listed(',right@right.example,Right,PT,,,,', ',wrong,Wrong,PT,,,,'));
    expect(done).toMatchObject({ added: 1, wrong: 1 });
    expect((await row('right@right.example')).state).toBe('active');
  });
});

describe('somebody new', () => {
  it('is let in after hold, with places and links, and is told only where that is wanted', async () => {
    const mails = count("messages WHERE kind = 'welcome'");
    await readIn(listed(',quiet@quiet.example,Quiet,PT,,Schools,video,'));
    expect(count("messages WHERE kind = 'welcome'")).toBe(mails);
    expect(await row('quiet@quiet.example')).toMatchObject({
      group: { name: 'Schools' },
      tags: [{ name: 'video' }],
      state: 'active',
    });
    const quiet = (await row('quiet@quiet.example')).id;
    expect(count(`links WHERE affiliate = '${quiet}'`)).toBeGreaterThan(0);
    await readIn(listed(',told@told.example,Told,PT,,,,'), { tell: true });
    expect(
      count(
        "messages m JOIN affiliates a ON a.id = m.affiliate WHERE m.kind = 'welcome' AND a.email = 'told@told.example'",
      ),
    ).toBe(1);
    await deliverWaiting(s.app);
  });
  it('of the same name as another gets a handle of its own', async () => {
    await readIn(listed(',first@kiln.example,Kiln Notes,PT,,,,', ',second@kiln.example,Kiln Notes,PT,,,,'));
    const handles = s.app.sqlite
      .prepare("SELECT handle FROM affiliates WHERE name = 'Kiln Notes' ORDER BY handle")
      .pluck()
      .all() as string[];
    expect(handles).toHaveLength(2);
    expect(new Set(handles).size).toBe(2);
  });
  it('two who read the same list in at once add each line once', async () => {
    const csv = listed(...Array.from({ length: 20 }, (_, i) => `,at${i}@once.example,At once ${i},PT,,,,`));
    const done = await Promise.all([readIn(csv), readIn(csv), readIn(csv)]);
    expect(done.reduce((sum, d) => sum + d.added, 0)).toBe(20);
    expect(done.reduce((sum, d) => sum + d.same, 0)).toBe(40);
    expect(count("affiliates WHERE email LIKE '%@once.example'")).toBe(20);
  });
});

describe('a list', () => {
  it('of more lines than can be read at once is refused before anything is', async () => {
    const csv = `email\n${'a@a.example\n'.repeat(20_001)}`;
    expect((await look(csv)).errors[0]!.detail).toBe('List: at most 20,000 lines at once, these are 20,001');
  });
  it('with a quote that is never closed names the line', async () => {
    const { lines } = await look('email,name,country\na@a.example,"A,PT\n');
    expect(lines.some((l) => l.outcome === 'wrong' && l.why.startsWith('cannot be read'))).toBe(true);
  });
  it('leaves the programme whole', () => {
    expect(ids('Ada').ids).toHaveLength(1);
    expect(brokenInvariants(s.app.sqlite)).toEqual([]);
  });
});
