import { expect, it } from 'vitest';
import { atMost, newSlices, newTurns } from './turns';

it('are taken in order, and others are served between two', async () => {
  const turn = newTurns();
  const seen: string[] = [];
  const calls = ['a', 'b', 'c'].map(async (name) => {
    await turn();
    seen.push(name);
  });
  const between = (n: number) => {
    seen.push(`io ${n}`);
    if (n < 3) setImmediate(() => between(n + 1));
  };
  setImmediate(() => between(1));
  await Promise.all(calls);
  expect(seen.filter((s) => s.length === 1)).toEqual(['a', 'b', 'c']);
  expect(seen.indexOf('io 1')).toBeLessThan(seen.indexOf('b'));
  expect(seen.indexOf('io 2')).toBeLessThan(seen.indexOf('c'));
});
it('so many at once, the rest in line, and no more than the line is long', async () => {
  let [now, most] = [0, 0];
  const limited = atMost(2, 3, () => new Error('full'));
  const ends: (() => void)[] = [];
  const work = () =>
    limited(async () => {
      now += 1;
      most = Math.max(most, now);
      await new Promise<void>((end) => {
        ends.push(end);
      });
      now -= 1;
      return now;
    });
  const all = Array.from({ length: 6 }, () => work().catch((fault: Error) => fault.message));
  for (let i = 0; i < 20; i += 1) {
    ends.shift()?.();
    await new Promise((go) => {
      setImmediate(go);
    });
  }
  expect((await Promise.all(all)).filter((x) => x === 'full')).toHaveLength(1);
  expect([most, now]).toEqual([2, 0]);
  await expect(limited(() => Promise.reject(new Error('its own')))).rejects.toThrow('its own');
  expect(await limited(() => Promise.resolve(7))).toBe(7);
});
it('slices do one piece at least, in order, and let others in between', async () => {
  const slices = newSlices(0);
  const seen: string[] = [];
  for (const name of ['a', 'b', 'c'])
    slices(() => {
      seen.push(name);
    });
  expect(seen).toEqual([]);
  let turns = 0;
  await new Promise<void>((done) => {
    const count = () => {
      turns += 1;
      if (seen.length === 3) done();
      else setImmediate(count);
    };
    setImmediate(count);
  });
  expect([seen, turns]).toEqual([['a', 'b', 'c'], 3]);
  const wide = newSlices(1000);
  for (const name of ['d', 'e'])
    wide(() => {
      seen.push(name);
    });
  await new Promise((go) => {
    setImmediate(go);
  });
  expect(seen.slice(3)).toEqual(['d', 'e']);
});
it('a piece that throws holds up none behind it', async () => {
  const slices = newSlices(1000);
  const seen: string[] = [];
  const caught: unknown[] = [];
  const others = process.listeners('uncaughtException');
  process.removeAllListeners('uncaughtException');
  process.once('uncaughtException', (fault) => caught.push(fault));
  slices(() => {
    throw new Error('one of many');
  });
  slices(() => {
    seen.push('behind');
  });
  await new Promise((go) => {
    setTimeout(go, 20);
  });
  for (const listener of others) process.on('uncaughtException', listener);
  expect([seen, caught.length]).toEqual([['behind'], 1]);
});
