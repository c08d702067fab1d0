import type { TObject } from '@sinclair/typebox';
import type { FieldValues, UseFormSetError } from 'react-hook-form';
import { describe, expect, it } from 'vitest';
import { setUp } from '../../contract/session';
import { ProductIn } from '../../contract/setup/products';
import { faultsOf } from '../../server/ground/http/validate';
import { Refused } from './api';
import { placeFaults, resolverOf } from './form';

const good = {
  code: 'WHEEL-1',
  name: 'Wheel',
  description: '',
  currency: 'EUR',
  price: '199.00',
  refundDays: 14,
  salesPage: '',
  rewardKind: 'percent',
  reward: '12',
};
/** The faults of what is typed, whatever it is: that is what a resolver is for. */
async function errorsOf(schema: TObject, values: Record<string, unknown>) {
  const { errors } = await resolverOf(schema)(values, undefined, {
    fields: {},
    shouldUseNativeValidation: false,
  });
  return errors;
}

const check = async (values: Record<string, unknown>) => {
  const errors = await errorsOf(ProductIn, values);
  return Object.fromEntries(
    Object.entries(errors as Record<string, { message: string }>).map(([field, e]) => [field, e.message]),
  );
};

describe('a form checks by the contract', () => {
  it('takes what the contract takes', async () => {
    expect(await check(good)).toEqual({});
  });
  it.each([
    [{ name: '' }, { name: 'Name is empty, such as “Table-top wheel kit”' }],
    [{ code: 'no spaces' }, { code: 'Code has a form that is not accepted, such as “WHEEL-1”' }],
    [
      { refundDays: Number.NaN },
      { refundDays: 'Refund window has the wrong type: it must be a whole number, such as “14”' },
    ],
    [{ refundDays: 400 }, { refundDays: 'Refund window is too large: at most 365, such as “14”' }],
    [
      { rewardKind: 'gift' },
      { rewardKind: 'Commission kind must be one of none, percent, flat, book, such as “none”' },
    ],
    [{ salesPage: 'x' }, { salesPage: expect.stringContaining('web address') as string }],
  ])('%j', async (more, said) => {
    expect(await check({ ...good, ...more })).toEqual(said);
  });
  it('and says the same as the server', async () => {
    for (const more of [
      { name: ' ' },
      { code: 'a b' },
      { refundDays: -1 },
      { description: 'x'.repeat(4001) },
      { currency: 'E' },
    ]) {
      const server = faultsOf(ProductIn, { ...good, ...more });
      const web = await check({ ...good, ...more });
      expect(Object.keys(web)).toEqual(server.map((f) => f.pointer.slice(1)));
      expect(Object.values(web)[0]).toContain(server[0]!.detail);
    }
  });
  it('checks every schema of a form without failing itself', async () => {
    const errors = await errorsOf(setUp.body, {});
    expect(Object.keys(errors).sort()).toEqual(Object.keys(setUp.body.properties).sort());
  });
});

describe('the server’s faults', () => {
  const refused = (errors: { pointer: string; detail: string; example?: string }[]) =>
    new Refused({ type: '', title: '', status: 422, code: 'invalid', detail: 'All of it', errors });
  it('go to their fields; what belongs to none is said above', () => {
    const set: [string, string | undefined, boolean | undefined][] = [];
    const put: UseFormSetError<FieldValues> = (field, e, o) => {
      set.push([field, e.message, o?.shouldFocus]);
    };
    expect(
      placeFaults(
        refused([
          { pointer: '/price', detail: 'Price: no', example: '1.00' },
          { pointer: '/code', detail: 'Taken' },
        ]),
        put,
        ['price', 'code'],
      ),
    ).toBeNull();
    expect(set).toEqual([
      ['price', 'Price: no, such as “1.00”', true],
      ['code', 'Taken', false],
    ]);
    expect(placeFaults(refused([{ pointer: '/sites/0', detail: 'Not a site' }]), put, ['sites'])).toBeNull();
    expect(placeFaults(refused([{ pointer: '/other', detail: 'x' }]), put, ['price'])).toBe('All of it');
    expect(placeFaults(new Error('bug'), put, [])).toMatch(/what you typed is kept/);
  });
});
