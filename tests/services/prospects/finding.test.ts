import { describe, expect, it } from 'vitest';
import { copyRegistry } from '../../../src/server/recruit/prospects/copy';
import { partnerAt, partnerCount } from '../../../src/standins/partners';
import { find, list, owner, prepare, registry, s, type Fault, type List, type Row } from './world';

prepare(partnerCount);

describe('our copy of the registry', () => {
  it('has every partner after reading page by page, and says how it stands', async () => {
    expect((await list('limit=1')).copy).toMatchObject({ partners: partnerCount, fault: null });
  });
  it('goes on where a reading was interrupted, and keeps what is there while the registry is down', async () => {
    await registry('registry-mode', 'down');
    expect(await copyRegistry(s.app, true)).toBe(false);
    expect((await list('limit=1')).copy).toMatchObject({
      partners: partnerCount,
      fault: expect.stringContaining('The registry answered 503'),
    });
    expect((await find(partnerAt(5).name)).length).toBeGreaterThan(0);
    s.app.sqlite.exec(
      "UPDATE registry_sync SET done_at = NULL, begun_at = 1, after_id = 'P-129900', fault = NULL, fault_at = NULL; UPDATE prospects SET audience = -1 WHERE id IN ('P-129899', 'P-129950')",
    );
    await registry('registry-mode', '');
    expect(await copyRegistry(s.app, true)).toBe(true);
    expect(
      s.app.sqlite
        .prepare("SELECT audience >= 0 FROM prospects WHERE id IN ('P-129899', 'P-129950') ORDER BY id")
        .pluck()
        .all(),
    ).toEqual([0, 1]);
  });
});

const one = partnerAt(4711);
it('finding a partner: by its exact id, whatever else is asked for', async () => {
  expect((await find(one.id)).map((r) => [r.id, r.found])).toEqual([[one.id, 'by its id']]);
  expect((await find(one.id.toLowerCase().replace('-', ''), '&country=XX')).map((r) => r.id)).toEqual([
    one.id,
  ]);
});
it('finding a partner: by any part of any of its sites, also the one it is not listed under', async () => {
  const several = Array.from({ length: 40 }, (_, i) => partnerAt(i * 700 + 3)).filter(
    (p) => p.sites.length > 1,
  );
  for (const p of several.slice(0, 12)) {
    const other = p.sites[1]!.replace(/^https?:\/\//, '').replace(/[:/].*$/, '');
    expect(
      (await find(other)).map((r) => r.id),
      other,
    ).toContain(p.id);
    expect(
      (await find(p.sites[1]!)).map((r) => r.id),
      p.sites[1],
    ).toContain(p.id);
    expect(
      (await find(other.slice(3, -8))).map((r) => r.id),
      other.slice(3, -8),
    ).toContain(p.id);
  }
});
it('finding a partner: under an address with other letters than ASCII, as it is written and as it is sent', async () => {
  const p = Array.from({ length: 2000 }, (_, i) => partnerAt(i)).find((x) =>
    x.sites.some((u) => u.includes('ö')),
  )!;
  const site = p.sites.find((u) => u.includes('ö'))!;
  expect((await find(site)).map((r) => r.id)).toContain(p.id);
  expect((await find(new URL(site).hostname)).map((r) => r.id)).toContain(p.id);
});
it('finding a partner: with one wrong letter, where nothing else fits; never two', async () => {
  const wrong = `${one.name.slice(0, 4)}q${one.name.slice(5)}`;
  expect((await find(wrong)).map((r) => [r.id, r.found])).toContainEqual([
    one.id,
    'with one letter forgiven',
  ]);
  expect((await find(`${one.name.slice(0, 3)}qq${one.name.slice(5)}`)).map((r) => r.id)).not.toContain(
    one.id,
  );
});
it('finding a partner: with one letter or two: in names and sites alone, every page of it', async () => {
  const { queryOf, rankOfKeys, keysOf } = await import('../../../src/core/recruiting/prospects');
  for (const q of ['0', 'k', 'zz', 'qx']) {
    const found: string[] = [];
    let after: string | null = '';
    while (after !== null && found.length < 600) {
      const page: { rows: Row[]; next: string | null } = await list(
        `q=${encodeURIComponent(q)}&limit=100${after ? `&after=${after}` : ''}`,
      );
      found.push(...page.rows.map((r) => r.id));
      after = page.next;
    }
    expect(new Set(found).size, q).toBe(found.length);
    const query = queryOf(q);
    const fits = (id: string) => {
      const i = Number(id.slice(2)) - 100_001;
      const p = partnerAt(i);
      return rankOfKeys({ ...keysOf({ ...p, words: '' }) }, query) !== null;
    };
    expect(found.every(fits), q).toBe(true);
    if (after === null) {
      let all = 0;
      for (let i = 0; i < partnerCount; i += 1)
        if (rankOfKeys(keysOf({ ...partnerAt(i), words: '' }), query) !== null) all += 1;
      expect(found.length, q).toBe(all);
    }
  }
}, 120_000);
it('finding a partner: says so where it cannot search, and searches again', async () => {
  const { prospectReadings } = await import('../../../src/server/recruit/prospects/readings');
  const { threadedReader } = await import('../../../src/server/ground/reading/reader');
  const { workerFile } = await import('../../helpers/worker');
  const broken = threadedReader(workerFile.replace('rehearse', 'reader'), '/nowhere/at/all.sqlite', {
    ...s.app,
    note: () => undefined,
  });
  await expect(
    broken.ask(prospectReadings.prospects, {
      filter: { q: 'kiln' },
      after: undefined,
      limit: 10,
      stamp: 1,
    }),
  ).rejects.toMatchObject({ code: 'unavailable' });
  broken.close();
  expect((await find('kiln')).length).toBeGreaterThan(0);
});
it('finding a partner: is the same as looking at each of the 30,000', async () => {
  const { queryOf, rankOf, ranks } = await import('../../../src/core/recruiting/prospects');
  const all = Array.from({ length: partnerCount }, (_, i) => partnerAt(i));
  for (const typed of [
    'hearth',
    'amber kiln',
    'ki',
    'oven letter',
    'podcast sea',
    'sorrel-q',
    'x',
    'lantrn wheel',
    'mossaic',
    'kiln films',
    'töpfer',
    'zzzzzz',
    'wmill',
    'er kiln fi',
    'xqzv',
    'klin',
    'a b',
    'letter kiln amber',
  ]) {
    const query = queryOf(typed);
    const ranked = all
      .map(
        (p) =>
          [
            p.id,
            rankOf(
              { id: p.id, name: p.name, sites: p.sites, words: `${p.kinds.join(' ')} ${p.intro}` },
              query,
            ),
          ] as const,
      )
      .filter(([, r]) => r !== null);
    const together = ranked.filter(([, r]) => r !== 'nearly' && r !== 'words');
    const better =
      together.length && query.words.some((w) => w.length < 3)
        ? together
        : ranked.filter(([, r]) => r !== 'nearly');
    const expected = (better.length ? better : ranked)
      .sort((a, b) => ranks.indexOf(a[1]!) - ranks.indexOf(b[1]!) || (a[0] < b[0] ? -1 : 1))
      .map(([id]) => id);
    const found: string[] = [];
    for (let after: string | null = ''; after !== null && found.length < 1500;) {
      const page: List = await list(
        `q=${encodeURIComponent(typed)}&limit=500${after ? `&after=${after}` : ''}`,
      );
      found.push(...page.rows.map((r) => r.id));
      after = page.next;
    }
    expect(found.slice(0, 1500), typed).toEqual(expected.slice(0, found.length < 1500 ? undefined : 1500));
  }
}, 60_000);
it('finding a partner: by filters, best standing first, in pages that meet', async () => {
  const [a, b] = [await list('kind=podcast&country=PT&limit=20'), null];
  expect(b).toBeNull();
  expect(a.rows.every((r) => r.country === 'PT' && r.kinds.includes('podcast'))).toBe(true);
  const second = await list(`kind=podcast&country=PT&limit=20&after=${a.next}`);
  const ids = [...a.rows, ...second.rows].map((r) => r.id);
  expect(new Set(ids).size).toBe(40);
  const standings = [...a.rows, ...second.rows].map((r) => r.standing ?? -1);
  expect([...standings].sort((x, y) => y - x)).toEqual(standings);
  expect((await list('vouched=true&limit=50')).rows.every((r) => r.vouched)).toBe(true);
});
it('finding a partner: what is nothing of ours is said', async () => {
  expect((await owner.get<Fault>('/api/v1/prospects/P-999999')).status).toBe(404);
  expect((await owner.get<Fault>('/api/v1/prospects?standing=101')).body.errors[0]!.pointer).toBe(
    '/standing',
  );
});
