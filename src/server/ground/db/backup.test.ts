import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { readSealKey, sealWith } from '../seal';
import { uploadsIn } from '../uploads';
import { backUp, materialOf, restore, sealOf } from './backup';
import { openStore } from './open';

const migrations = join(import.meta.dirname, 'migrations');
let folder: string;
let data: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gravenel-backup-'));
  data = join(folder, 'data');
  file = join(folder, 'copy.sqlite');
  mkdirSync(data);
  const seal = sealWith(readSealKey(join(data, 'seal.key'), undefined));
  const store = openStore(join(data, 'gravenel.sqlite'), migrations);
  store.sqlite
    .prepare("INSERT INTO keys (id, label, secret, created_at) VALUES ('key-1', 'Shop', ?, 0)")
    .run(seal.close('whsec_x'));
  store.close();
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const modeOf = (path: string) => (statSync(path).mode & 0o777).toString(8);
const secretIn = (where: string) => {
  const db = new Database(join(where, 'gravenel.sqlite'), { readonly: true });
  const sealed = db.prepare('SELECT secret FROM keys').pluck().get() as string;
  db.close();
  return sealWith(readSealKey(join(where, 'seal.key'), undefined)).open(sealed);
};
const put = (where: string, env?: string) =>
  restore(where, file, { migrations, sealInEnvironment: env, now: new Date('2027-03-12T10:00:00Z') });

describe('a backup', () => {
  it('of a database that is in use takes the seal along, both for their owner alone, and says so', async () => {
    const live = openStore(join(data, 'gravenel.sqlite'), migrations);
    const { said } = await backUp(data, file, false);
    live.close();
    expect([modeOf(file), modeOf(sealOf(file))]).toEqual(['600', '600']);
    expect(said.join(' ')).toContain(sealOf(file));
    expect(existsSync(`${file}-wal`)).toBe(false);
  });
  it('says where the key is when it is no file', async () => {
    const { said } = await backUp(data, file, true);
    expect([existsSync(sealOf(file)), said.join(' ').includes('GRAVENEL_SEAL')]).toEqual([false, true]);
  });
  it('is never written over, and needs a database and a folder', async () => {
    writeFileSync(sealOf(file), 'x');
    await expect(backUp(data, file, false)).rejects.toThrow(/exists already/);
    await expect(backUp(join(folder, 'nothing'), join(folder, 'b'), false)).rejects.toThrow(/no database/);
    await expect(backUp(data, join(folder, 'no/such/b'), false)).rejects.toThrow(/no folder/);
  });
});

it('restoring: into an empty folder brings back the data and the secrets', async () => {
  await backUp(data, file, false);
  const other = join(folder, 'other');
  expect(put(other)).toEqual([`Restored copy.sqlite into ${other}.`]);
  expect(secretIn(other)).toBe('whsec_x');
  expect([modeOf(other), modeOf(join(other, 'gravenel.sqlite')), modeOf(join(other, 'seal.key'))]).toEqual([
    '700',
    '600',
    '600',
  ]);
});
it('restoring: brings back what creatives are made of, and leaves what is there', async () => {
  const [kept, lost] = ['a'.repeat(64), 'b'.repeat(64)];
  const uploads = uploadsIn(join(data, 'material'));
  await uploads.keep(kept, Buffer.from('a box'));
  await uploads.keep(lost, Buffer.from('a wheel'));
  // one that is being written while the copy is taken
  writeFileSync(join(data, 'material/aa/.making'), 'half');
  expect((await backUp(data, file, false)).said.join(' ')).toContain(`2 files, is in ${materialOf(file)}`);
  expect(readdirSync(join(materialOf(file), 'aa'))).toEqual([kept]);
  expect([modeOf(materialOf(file)), modeOf(join(materialOf(file), 'bb', lost))]).toEqual(['700', '600']);
  rmSync(uploads.pathOf(lost));
  await uploads.keep('c'.repeat(64), Buffer.from('made since'));
  expect(put(data).join(' ')).toContain('2 files, is there again');
  expect(readFileSync(uploads.pathOf(lost), 'utf8')).toBe('a wheel');
  expect(readFileSync(uploads.pathOf('c'.repeat(64)), 'utf8')).toBe('made since');
  await expect(backUp(data, file, false)).rejects.toThrow(/exists already/);
});
it('restoring: without what creatives are made of, says how much of it is missing', async () => {
  const [there, gone] = ['a'.repeat(64), 'b'.repeat(64)];
  const { sqlite } = openStore(join(data, 'gravenel.sqlite'), migrations);
  sqlite.pragma('foreign_keys = OFF');
  const add = sqlite.prepare(
    "INSERT INTO creatives (id, kind, name, subject, products, landing, language, audience, active, note, file, texts, created_at, by, version) VALUES (?, 'banner', 'A', '', '[]', '', '', '{}', 1, '', ?, '{}', 1, 'stf_x', 1)",
  );
  add.run('cre_1', there);
  add.run('cre_2', gone);
  add.run('cre_3', gone);
  sqlite.close();
  await uploadsIn(join(data, 'material')).keep(there, Buffer.from('a box'));
  await backUp(data, file, false);
  // the folder of the copy was not kept with it
  rmSync(materialOf(file), { recursive: true });
  expect(put(data).join(' ')).toContain(
    '1 file that creatives show is not there: bring copy.sqlite.material',
  );
  expect(put(join(folder, 'elsewhere')).join(' ')).toContain('2 files that creatives show are not there');
});
it('restoring: moves what was there aside, also a damaged file', async () => {
  await backUp(data, file, false);
  writeFileSync(join(data, 'gravenel.sqlite'), 'this is no database at all, and long enough to be looked at');
  expect(() => openStore(join(data, 'gravenel.sqlite'), migrations)).toThrow(
    /gravenel\.sqlite cannot be opened.*npm run restore/s,
  );
  const said = put(data);
  expect(said[1]).toContain('before-restore-2027-03-12');
  expect(
    readFileSync(
      join(
        data,
        readdirSync(data).find((n) => n.startsWith('before-restore'))!,
        'gravenel.sqlite',
      ),
      'utf8',
    ),
  ).toContain('no database');
  expect(secretIn(data)).toBe('whsec_x');
});
it('restoring: without the seal names the keys that have to be made anew', async () => {
  await backUp(data, file, false);
  rmSync(sealOf(file));
  expect(put(join(folder, 'other')).at(-1)).toMatch(/cannot be read.*key-1/);
  expect(put(join(folder, 'third'), 'a'.repeat(64)).at(-1)).toMatch(/key-1/);
});
it.each([
  ['no file', () => undefined, /There is no file/],
  ['another file', () => writeFileSync(file, 'hello'), /no whole copy/],
  ['an empty database', () => new Database(file).exec('CREATE TABLE x (a)').close(), /no whole copy/],
])('restoring: %s is refused, and nothing is changed', (_, make, said) => {
  make();
  const before = readdirSync(data);
  expect(() => put(data)).toThrow(said);
  expect(readdirSync(data)).toEqual(before);
});
it('restoring: a copy of a newer version, a seal that is none, and a folder that is served are refused', async () => {
  await backUp(data, file, false);
  writeFileSync(sealOf(file), '');
  expect(() => put(data)).toThrow(/is empty/);
  rmSync(sealOf(file));
  const live = openStore(join(data, 'gravenel.sqlite'), migrations);
  expect(() => put(data)).toThrow(/A server is running/);
  live.close();
  const newer = new Database(file);
  newer.exec("INSERT INTO __drizzle_migrations (hash, created_at) VALUES ('x', 1)");
  newer.close();
  expect(() => put(data)).toThrow(/newer version/);
});

describe('a data file that is not as it should be', () => {
  it('says what to do: one of a newer version, one that is read only', () => {
    const newer = new Database(join(data, 'gravenel.sqlite'));
    newer.exec("INSERT INTO __drizzle_migrations (hash, created_at) VALUES ('x', 1)");
    newer.close();
    expect(() => openStore(join(data, 'gravenel.sqlite'), migrations)).toThrow(/newer version of Gravenel/);
    expect(() => openStore(data, migrations)).toThrow(/cannot be opened/);
  });
  it('a disk that fills up refuses what cannot be kept, and keeps what was there', () => {
    const store = openStore(join(data, 'gravenel.sqlite'), migrations);
    store.sqlite.pragma(
      `max_page_count = ${(store.sqlite.pragma('page_count', { simple: true }) as number) + 2}`,
    );
    const insert = store.sqlite.prepare(
      "INSERT INTO keys (id, label, secret, created_at) VALUES (?, 'x', ?, 0)",
    );
    let fault: { code?: string } = {};
    try {
      store.transaction(() => {
        for (let i = 0; i < 500; i += 1) insert.run(`key-f${i}`, 'y'.repeat(2000));
      });
    } catch (thrown) {
      fault = thrown as { code?: string };
    }
    expect(fault.code).toBe('SQLITE_FULL');
    expect(store.sqlite.prepare('SELECT count(*) FROM keys').pluck().get()).toBe(1);
    expect(store.sqlite.pragma('integrity_check', { simple: true })).toBe('ok');
    store.close();
  });
});

describe('the seal key', () => {
  it.each([
    ['', /is empty/],
    ['abc', /not whole/],
    ['z'.repeat(64), /not whole/],
  ])('%j is refused with what to do', (text, said) => {
    writeFileSync(join(data, 'seal.key'), text);
    expect(() => readSealKey(join(data, 'seal.key'), undefined)).toThrow(said);
    expect(() => readSealKey(join(data, 'seal.key'), undefined)).toThrow(/npm run restore/);
  });
});
