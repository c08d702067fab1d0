import { expect, it } from 'vitest';
import { Refused } from './api';
import { faultInWords, newKeeper } from './keeper';

const refused = (status: number, code: string) =>
  new Refused({ type: '', title: '', status, code, detail: 'said', errors: [] });
const lost = () => Promise.reject(refused(0, 'unreachable'));

it('is the same for a second click while the first is on its way, and a new one after the answer', async () => {
  const { send } = newKeeper();
  const keys: string[] = [];
  let answer = () => undefined as void;
  const slow = (key: string) => {
    keys.push(key);
    return new Promise<string>((done) => {
      answer = () => done('ok');
    });
  };
  const first = send('a', { n: 1 }, slow);
  const second = send('a', { n: 1 }, (key) => {
    keys.push(key);
    return Promise.resolve('ok');
  });
  await second;
  answer();
  await first;
  await send('a', { n: 1 }, (key) => {
    keys.push(key);
    return Promise.resolve('ok');
  });
  expect(keys[1]).toBe(keys[0]);
  expect(keys[2]).not.toBe(keys[0]);
});
it('is kept after a lost answer, also where the form was changed since, and only for the same record', async () => {
  const { send } = newKeeper();
  const keys: string[] = [];
  const noted = (work: () => Promise<string>) => (key: string) => {
    keys.push(key);
    return work();
  };
  await expect(send('a', { n: 1 }, noted(lost))).rejects.toBeInstanceOf(Refused);
  await expect(send('a', { n: 2 }, noted(lost))).rejects.toBeInstanceOf(Refused);
  await send(
    'b',
    { n: 1 },
    noted(() => Promise.resolve('other record')),
  );
  await send(
    'a',
    { n: 2 },
    noted(() => Promise.resolve('answered')),
  );
  await send(
    'a',
    { n: 2 },
    noted(() => Promise.resolve('another act')),
  );
  expect([keys[1], keys[3]]).toEqual([keys[0], keys[0]]);
  expect(new Set([keys[0], keys[2], keys[4]]).size).toBe(3);
});
it('is renewed by a refusal, which is an answer', async () => {
  const { send } = newKeeper();
  const keys: string[] = [];
  await expect(
    send('a', 1, (key) => {
      keys.push(key);
      return Promise.reject(refused(422, 'invalid'));
    }),
  ).rejects.toBeInstanceOf(Refused);
  await send('a', 1, (key) => {
    keys.push(key);
    return Promise.resolve('ok');
  });
  expect(keys[1]).not.toBe(keys[0]);
});
it('that was used before says that the act was done', () => {
  expect(faultInWords(refused(409, 'key-reused'))).toContain('has been done');
  expect(faultInWords(refused(422, 'invalid'))).toBe('said');
  expect(faultInWords(new Error('x'))).toContain('Something went wrong');
});
