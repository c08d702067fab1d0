import { Type } from '@sinclair/typebox';
import { describe, expect, it } from 'vitest';
import { explain } from '../../../contract/explain';
import { closed, email, wholeNumber, wordsRequired } from '../../../contract/shared';
import { readCookie } from '../../registers/access/session';
import { newId } from '../db/ids';
import { anywhere, readCursor } from '../db/page';
import { sealWith } from '../seal';
import { fromCsv, toCsv } from './csv';
import { Problem, problemFrom, problemStatus } from './problem';
import { faultsOf } from './validate';

describe('what a fault says', () => {
  const schema = closed({
    name: wordsRequired('Name', 5, 'Ann'),
    mail: email(),
    days: wholeNumber('Days', 1, 9, 3),
    list: Type.Array(Type.String({ title: 'Word' }), { minItems: 1, title: 'Words' }),
  });
  it.each([
    [{}, ['Name is missing', 'E-mail address is missing', 'Days is missing', 'Words is missing']],
    [
      { name: ' ', mail: 'x@y', days: 10, list: [] },
      [
        'Name is empty',
        'E-mail address is not an e-mail address',
        'Days is too large: at most 9',
        'Words needs at least 1',
      ],
    ],
    [
      { name: 'longer', mail: 5, days: 1.5, list: [7] },
      [
        'Name is too long: at most 5 characters',
        'E-mail address has the wrong type: it must be text',
        'Days has the wrong type: it must be a whole number',
        'Word has the wrong type: it must be text',
      ],
    ],
    [{ name: 'Ann', mail: 'a@b.example', days: 3, list: ['x'], more: 1 }, ['“more” is not a known field']],
  ])('%j', (value, said) => {
    expect(faultsOf(schema, value).map((f) => f.detail)).toEqual(said);
  });
  it('carries an example where the schema has one', () => {
    expect(faultsOf(schema, { mail: 'a@b.example', days: 3, list: ['x'] })).toEqual([
      { pointer: '/name', detail: 'Name is missing', example: 'Ann' },
    ]);
    expect(explain({ pointer: '/x', keyword: 'nothing-known', schema: {} })).toEqual({
      pointer: '/x',
      detail: 'x is not accepted',
    });
  });
});

describe('problems', () => {
  it('keep their code and status; what is unknown leaks nothing', () => {
    expect(new Problem('stale', 'Changed').toBody()).toMatchObject({
      status: 409,
      code: 'stale',
      detail: 'Changed',
      errors: [],
    });
    expect(problemFrom(new Error('SELECT secret FROM keys')).toBody()).toMatchObject({
      status: 500,
      code: 'internal',
      detail: expect.not.stringContaining('SELECT'),
    });
    expect(problemFrom({ type: 'entity.too.large' }).code).toBe('too-large');
    expect(problemFrom(new URIError('x')).code).toBe('malformed');
    expect(problemFrom({ status: 404 }).status).toBe(404);
    expect(Object.values(problemStatus).every((s) => s >= 400 && s < 600)).toBe(true);
  });
});

describe('CSV', () => {
  it('makes cells that begin like a formula harmless, and leaves numbers be', () => {
    expect(
      toCsv(['a'], [['=1+1'], ['+x'], ['@y'], ['-12.50'], ['-x'], ['a,"b"'], [null], [5], ['a;=1']]),
    ).toBe('a\r\n"\'=1+1"\r\n"\'+x"\r\n"\'@y"\r\n-12.50\r\n"\'-x"\r\n"a,""b"""\r\n\r\n5\r\n"a;\'=1"\r\n');
  });
  it('reads a byte-order mark, semicolons and quoted line breaks', () => {
    expect(
      fromCsv('\uFEFFEnd_To_End_Id;status\r\n"A\nB";ACSC\r\n\r\n').rows.map((r) => ({ ...r.cells })),
    ).toEqual([{ end_to_end_id: 'A\nB', status: 'ACSC' }]);
    expect(fromCsv('a,b\n1,2,3\n').faults).toEqual([{ line: 2, said: 'has 3 cells, the heading 2' }]);
  });
  it('counts the lines of the text, blank ones and quoted breaks too', () => {
    expect(fromCsv('\n\na,b\n\n1,2\n"x\ny",3\n , \n4\n').rows.map((r) => r.line)).toEqual([5, 6, 9]);
    expect(fromCsv('a\r\n\r\n1\r\n\r\n2').rows.map((r) => [r.line, r.cells.a])).toEqual([
      [3, '1'],
      [5, '2'],
    ]);
    expect(fromCsv('a,b\n\n1\n').faults).toEqual([{ line: 3, said: 'has 1 cells, the heading 2' }]);
  });
  it('takes any word as a heading', () => {
    expect(fromCsv('__proto__,constructor\n1,2\n').rows[0]!.cells).toMatchObject({ constructor: '2' });
  });
});

describe('small things', () => {
  it('ids sort in the order they were made and are never the same', () => {
    const made = Array.from({ length: 5000 }, () => newId('order'));
    expect([...made].sort()).toEqual(made);
    expect(new Set(made).size).toBe(5000);
    expect(made[0]).toMatch(/^ord_[0-9a-z]{20}$/);
  });
  it('a cursor that is none is refused', () => {
    expect(readCursor(Buffer.from('["x","id"]').toString('base64url'))).toEqual(['x', 'id']);
    for (const bad of [
      '',
      'x',
      Buffer.from('{}').toString('base64url'),
      Buffer.from('[1]').toString('base64url'),
    ])
      expect(() => readCursor(bad)).toThrow(/page is not known/);
  });
  it('wildcards in a search are taken as they are', () => {
    expect(anywhere('50%_\\')).toBe('%50\\%\\_\\\\%');
  });
  it('reads one cookie of many', () => {
    expect(readCookie('a=1; gvv=vtr_x; b=2', 'gvv')).toBe('vtr_x');
    expect(readCookie(undefined, 'gvv')).toBeUndefined();
    expect(readCookie('xgvv=1', 'gvv')).toBeUndefined();
  });
  it('a sealed secret opens under its own key only', () => {
    const [one, two] = [sealWith(Buffer.alloc(32, 1)), sealWith(Buffer.alloc(32, 2))];
    const closedText = one.close('whsec_x');
    expect(closedText).not.toContain('whsec');
    expect(one.open(closedText)).toBe('whsec_x');
    expect(one.close('whsec_x')).not.toBe(closedText);
    expect(() => two.open(closedText)).toThrow();
    expect(() => one.open('x')).toThrow(/three parts/);
    expect(one.digest('a')).not.toBe(two.digest('a'));
  });
});
