import { chmodSync, existsSync, mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { readSettings, writableFolder } from './environment';
import { trustOf } from './http/origin';
import { readSealKey } from './seal';

const read = (env: NodeJS.ProcessEnv) => readSettings('/opt/gravenel', env);

describe('what the environment decides', () => {
  it('nothing need be said: this machine alone, its own folder, stand-ins where a programme tries it out', () => {
    expect(read({})).toMatchObject({
      ...{ port: 4310, standinPort: 4311, host: '127.0.0.1', address: 'http://127.0.0.1:4310' },
      ...{ data: '/opt/gravenel/data', standins: 'demo', trustProxy: [], logLevel: 'warn' },
      ...{ seal: undefined, smtp: undefined, registry: undefined },
    });
  });
  it('the address follows the port, and an end of it is taken off', () => {
    expect(read({ GRAVENEL_PORT: '8080' }).address).toBe('http://127.0.0.1:8080');
    expect(read({ GRAVENEL_ADDRESS: ' https://partners.quernstone.example/ ' }).address).toBe(
      'https://partners.quernstone.example',
    );
  });
  it('proxies are parted by commas, with or without spaces', () => {
    expect(read({ GRAVENEL_TRUST_PROXY: '127.0.0.1, 10.0.0.0/8,' }).trustProxy).toEqual([
      '127.0.0.1',
      '10.0.0.0/8',
    ]);
  });
  it.each([
    [{ GRAVENEL_PORT: 'http' }, 'GRAVENEL_PORT must be a port from 1 to 65533, not “http”'],
    [{ GRAVENEL_PORT: '0' }, 'GRAVENEL_PORT must be a port from 1 to 65533, not “0”'],
    [{ GRAVENEL_PORT: '65534' }, 'GRAVENEL_PORT must be a port from 1 to 65533, not “65534”'],
    [{ GRAVENEL_PORT: '80.5' }, 'GRAVENEL_PORT must be a port from 1 to 65533, not “80.5”'],
    [{ GRAVENEL_STANDINS: 'yes' }, 'GRAVENEL_STANDINS must be on, off or demo, not “yes”'],
    [
      { GRAVENEL_HOST: 'partners.quernstone.example' },
      'GRAVENEL_HOST must be an address of this machine, such as 127.0.0.1 or 0.0.0.0, not “partners.quernstone.example”',
    ],
    [
      { GRAVENEL_HOST: '0.0.0.0' },
      'With GRAVENEL_HOST=0.0.0.0 others can reach Gravenel: name the address that they use with GRAVENEL_ADDRESS, such as https://partners.quernstone.example',
    ],
  ])('%o is refused by name', (env, sentence) => {
    expect(() => read(env)).toThrow(sentence);
  });
  it.each([
    'partners.quernstone.example',
    'ftp://quernstone.example',
    'https://x.example/path',
    'https://x.example?q=1',
    'https://ines@x.example',
    '',
  ])('the address “%s” is none that people could use', (address) => {
    expect(() => read({ GRAVENEL_ADDRESS: address })).toThrow(
      `GRAVENEL_ADDRESS must be a web address without a path, such as https://partners.quernstone.example, not “${address}”`,
    );
  });
});

describe('who reaches it', () => {
  it('others may, where the address is named', () => {
    const env = { GRAVENEL_HOST: '0.0.0.0', GRAVENEL_ADDRESS: 'https://partners.quernstone.example' };
    expect(read(env)).toMatchObject({ host: '0.0.0.0', address: 'https://partners.quernstone.example' });
  });
  it('a proxy that is none is refused with an example', () => {
    expect(() => trustOf(['proxy.example'])).toThrow(
      'GRAVENEL_TRUST_PROXY must name proxies by address or range, parted by commas, such as “127.0.0.1, 10.0.0.0/8”, not “proxy.example”',
    );
    expect(trustOf(['10.0.0.0/8'])('10.1.2.3', 0)).toBe(true);
    expect(trustOf(['10.0.0.0/8'])('192.168.1.1', 0)).toBe(false);
    expect(trustOf([])('127.0.0.1', 0)).toBe(false);
  });
});

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gravenel-test-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const mode = (path: string) => statSync(path).mode & 0o777;

describe('the data folder', () => {
  it('is made where it is not there, for its owner alone', () => {
    const data = join(folder, 'deep', 'data');
    writableFolder(data);
    expect(mode(data)).toBe(0o700);
  });
  it('what an earlier version let others read is taken from them; what is not ours is left', () => {
    for (const name of ['gravenel.sqlite', 'gravenel.sqlite-wal', 'seal.key', 'notes.txt']) {
      writeFileSync(join(folder, name), '');
      chmodSync(join(folder, name), 0o644);
    }
    writableFolder(folder);
    expect(mode(folder)).toBe(0o700);
    expect(['gravenel.sqlite', 'gravenel.sqlite-wal', 'seal.key'].map((n) => mode(join(folder, n)))).toEqual([
      0o600, 0o600, 0o600,
    ]);
    expect(mode(join(folder, 'notes.txt'))).toBe(0o644);
  });
  it('one that cannot be made is said, with what to change', () => {
    writeFileSync(join(folder, 'taken'), '');
    const data = join(folder, 'taken', 'data');
    expect(() => writableFolder(data)).toThrow(
      `The data folder ${data} cannot be written. Choose another with GRAVENEL_DATA.`,
    );
  });
});

describe('the key that seals', () => {
  const hex = 'ab'.repeat(32);
  it('is taken from the environment, in upper case as well, and then no file is made', () => {
    const file = join(folder, 'seal.key');
    expect(readSealKey(file, hex)).toHaveLength(32);
    expect(readSealKey(file, hex.toUpperCase())).toEqual(readSealKey(file, hex));
    expect(existsSync(file)).toBe(false);
  });
  it.each(['', 'ab', `${hex}00`, 'zz'.repeat(32)])('“%s” from the environment is no whole key', (text) => {
    expect(() => readSealKey(join(folder, 'seal.key'), text)).toThrow('GRAVENEL_SEAL must be 64 hex digits');
  });
  it('is made on first use, for its owner alone, and is the same after that', () => {
    const file = join(folder, 'seal.key');
    const first = readSealKey(file, undefined);
    expect(readSealKey(file, undefined)).toEqual(first);
    expect(mode(file)).toBe(0o600);
  });
  it.each([
    ['', 'empty'],
    ['ab', 'not whole'],
  ])('a file that holds “%s” is %s: nothing is sealed with it, and it is not made anew', (text, what) => {
    const file = join(folder, 'seal.key');
    writeFileSync(file, text);
    expect(() => readSealKey(file, undefined)).toThrow(`The key in ${file} is ${what}`);
    expect(statSync(file).size).toBe(text.length);
  });
  it('where a folder stands in its place, nothing is overwritten', () => {
    mkdirSync(join(folder, 'seal.key'));
    expect(() => readSealKey(join(folder, 'seal.key'), undefined)).toThrow(/EISDIR/);
  });
});
