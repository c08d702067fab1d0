import { and, desc, eq, lte, sql } from 'drizzle-orm';
import { isDay } from '../../../core/calendar/zone';
import { isCurrency } from '../../../core/money/currency';
import { formatRate } from '../../../core/terms/present';
import { type Actor, type App } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
import { rateDays } from '../../ground/tables/exchange';
import { record } from '../access/audit';
import { theProgramme } from '../programme/record';

/** How much of a currency one unit of base buys on a day, × 1,000,000: the latest rate on or before it; null if none is known. */
export function rateOn(app: App, currency: string, day: string): number | null {
  if (currency === theProgramme(app).base) return 1_000_000;
  return (
    app.db
      .select({ rate: rateDays.rateMicros })
      .from(rateDays)
      .where(and(eq(rateDays.currency, currency), lte(rateDays.day, day)))
      .orderBy(desc(rateDays.day))
      .limit(1)
      .get()?.rate ?? null
  );
}

export function listExchange(app: App) {
  const rows = app.db
    .select({
      currency: rateDays.currency,
      day: sql<string>`max(${rateDays.day})`,
      rate: rateDays.rateMicros,
    })
    .from(rateDays)
    .groupBy(rateDays.currency)
    .orderBy(rateDays.currency)
    .all();
  return { rows: rows.map((r) => ({ currency: r.currency, day: r.day, rate: formatRate(r.rate) })) };
}

/** Sets a rate from a day on. Orders that were recorded keep the rate stored with them. */
export function setExchange(app: App, actor: Actor, input: { currency: string; day: string; rate: string }) {
  const { base } = theProgramme(app);
  const currency = input.currency.toUpperCase();
  if (!isCurrency(currency)) throw refuse('currency', `Currency ${currency} is not known`, 'JPY');
  if (currency === base)
    throw refuse(
      'currency',
      `${base} is the base currency and needs no rate`,
      base === 'JPY' ? 'EUR' : 'JPY',
    );
  const match = /^(\d{1,7})(?:\.(\d{1,6}))?$/.exec(input.rate.trim());
  const micros = match ? Number(match[1]! + (match[2] ?? '').padEnd(6, '0')) : 0;
  if (micros <= 0)
    throw refuse(
      'rate',
      `Rate: write how much ${currency} one ${base} buys, above zero, with at most six decimals`,
      '160.25',
    );
  if (!isDay(input.day)) throw refuse('day', 'From is not a day of the calendar', '2027-03-12');
  app.db
    .insert(rateDays)
    .values({ currency, day: input.day, rateMicros: micros })
    .onConflictDoUpdate({ target: [rateDays.currency, rateDays.day], set: { rateMicros: micros } })
    .run();
  record(app, actor, 'exchange-set', {
    subject: 'programme',
    before: null,
    after: {
      currency,
      day: input.day,
      rate: formatRate(micros),
    },
  });
  return listExchange(app);
}
