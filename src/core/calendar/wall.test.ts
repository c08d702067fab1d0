import fc from 'fast-check';
import { expect, it } from 'vitest';
import { momentOfWall, wallOf } from './wall';

it('a wall clock is read in the zone, before and after the clocks change', () => {
  expect(momentOfWall('2027-03-27T12:00', 'Europe/Lisbon')).toBe(Date.parse('2027-03-27T12:00:00Z'));
  expect(momentOfWall('2027-03-28T12:00', 'Europe/Lisbon')).toBe(Date.parse('2027-03-28T11:00:00Z'));
  expect(momentOfWall('', 'Europe/Lisbon')).toBeNull();
});

it('any minute comes back as the same moment, but for an hour that a clock shows twice', () => {
  const zones = fc.constantFrom('Europe/Lisbon', 'America/New_York', 'Asia/Kathmandu', 'UTC');
  const minute = fc.integer({
    min: Date.parse('2026-01-01') / 60_000,
    max: Date.parse('2028-01-01') / 60_000,
  });
  fc.assert(
    fc.property(zones, minute, (zone, n) => {
      const at = n * 60_000;
      const back = momentOfWall(wallOf(at, zone), zone)!;
      expect([0, 3_600_000]).toContain(Math.abs(back - at));
      expect(wallOf(back, zone)).toBe(wallOf(at, zone));
    }),
    { seed: 20270312, numRuns: 1000 },
  );
});
