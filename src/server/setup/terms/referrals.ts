import { and, eq, sql } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { setReferral as Call } from '../../../contract/setup/shares';
import { formatDay } from '../../../core/calendar/format';
import { inForce, isEmpty, isOver } from '../../../core/calendar/span';
import { addZonedMonths } from '../../../core/calendar/zone';
import { formatPercent, parsePercent, percentDigits } from '../../../core/money/percent';
import type { Referral } from '../../../core/terms/shares';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { refuse } from '../../ground/http/problem';
import { shareLines } from '../../ground/tables/crediting';
import { commissions } from '../../ground/tables/ledger';
import { referrals } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { productsInUse } from '../../registers/catalogue/store';
import { affiliateNames } from '../../registers/people/names';
import { affiliateById } from '../../registers/people/record';
import { noteOfAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { theTerms } from './store';
import { worstInWords, worstOn, type ReferralTerms } from './worst';

type ReferralRecord = typeof referrals.$inferSelect;
export const longestMonths = 120;

const statements = perApp((app) => ({ of: rowsBy(app, referrals, ['affiliate']) }));

/** Who had brought an affiliate in, and on which terms, at a moment. */
export function referralAt(app: App, affiliate: Id<'affiliate'>, at: number): Referral | null {
  return (
    statements(app)
      .of.all(affiliate)
      .find((r) => inForce(r, at)) ?? null
  );
}

function open(app: App, affiliate: Id<'affiliate'>): ReferralRecord | undefined {
  const now = app.clock.now();
  return app.db
    .select()
    .from(referrals)
    .where(eq(referrals.affiliate, affiliate))
    .all()
    .find((r) => !isOver(r, now));
}

/** Refuses a referral share with which some product could cost more than it sells for. @throws Problem naming the worst case */
export function refuseWorst(app: App, referral: ReferralTerms, field: string): void {
  for (const p of productsInUse(app)) {
    for (const event of ['sale', 'renewal'] as const) {
      const found = worstOn(app, p, { rates: theTerms(app).data.rates, event, promised: [referral] });
      if (found)
        throw refuse(
          field,
          `${worstInWords(app, p, found)}: commission and referral share cannot be more than the sale`,
          '5',
        );
    }
  }
}

/** Months as typed: null = for ever. @throws Problem */
export function readMonths(text: string, field: string): number | null {
  if (text.trim() === '') return null;
  const months = Number(text);
  if (months < 1 || months > longestMonths)
    throw refuse(field, `Months: from 1 to ${longestMonths}; leave it empty for “for ever”`, '12');
  return months;
}

/** A referral for the history: who, what it earns, until when. */
function inWords(app: App, r: Pick<ReferralRecord, 'by' | 'ppm' | 'of' | 'until'>): Record<string, string> {
  return {
    'brought in by': affiliateNames(app, [r.by]).get(r.by) ?? r.by,
    earns: `${formatPercent(r.ppm)} of the ${r.of}`,
    until: r.until === null ? 'open' : formatDay(r.until, theProgramme(app).zone),
  };
}

/** Begins the share of the one who brought an affiliate in, at the moment it joins, on the programme's terms of that day. */
export function beginReferral(
  app: App,
  actor: Actor,
  { id: affiliate, broughtBy: by }: { id: Id<'affiliate'>; broughtBy: Id<'affiliate'> | null },
  at: number,
): void {
  const { referralPpm, referralOf, referralMonths, zone } = theProgramme(app);
  if (by === null || referralPpm === 0 || by === affiliate || open(app, affiliate)) return;
  const until = referralMonths === null ? null : addZonedMonths(at, referralMonths, zone);
  app.db
    .insert(referrals)
    .values({
      id: newId('referral'),
      affiliate,
      by,
      ppm: referralPpm,
      of: referralOf,
      from: at,
      until,
      setBy: actor.id,
    })
    .run();
  record(app, actor, 'referral-began', {
    subject: affiliate,
    before: null,
    after: inWords(app, { by, ppm: referralPpm, of: referralOf, until }),
  });
}

/** Takes back what began with a joining that is taken back. */
export function forgetReferral(app: App, affiliate: Id<'affiliate'>, from: number): void {
  app.db
    .update(referrals)
    .set({ until: sql`${referrals.from}` })
    .where(and(eq(referrals.affiliate, affiliate), sql`${referrals.from} >= ${from}`))
    .run();
}

export function readReferral(app: App, affiliate: Id<'affiliate'>): ReplyOf<typeof Call> {
  const row = affiliateById(app, affiliate);
  const { base, referralPpm, referralOf, referralMonths } = theProgramme(app);
  const now = open(app, affiliate);
  const brought = app.db
    .select()
    .from(referrals)
    .where(eq(referrals.by, affiliate))
    .orderBy(referrals.from)
    .all()
    .filter((r) => !isEmpty(r));
  // only what sales of that affiliate left to this one
  const earned = new Map(
    app.db
      .all<{ id: string; n: number }>(
        sql`SELECT o.affiliate AS id, sum(s.amount_left) AS n FROM ${shareLines} s JOIN orders o ON o.id = s.order_id WHERE s.payee = ${affiliate} AND s.kind = 'referral' GROUP BY o.affiliate`,
      )
      .map((r) => [r.id, r.n]),
  );
  const names = affiliateNames(app, [
    ...brought.map((r) => r.affiliate),
    ...(now ? [now.by] : []),
    ...(row.broughtBy ? [row.broughtBy] : []),
  ]);
  const terms = (r: ReferralRecord) => ({
    percent: percentDigits(r.ppm),
    of: r.of,
    from: r.from,
    until: r.until,
  });
  return {
    by: now
      ? {
          id: now.by,
          name: names.get(now.by) ?? now.by,
          state: affiliateById(app, now.by).state,
          ...terms(now),
        }
      : null,
    waitsFor: !now && row.joinedAt === null && row.broughtBy ? (names.get(row.broughtBy) ?? null) : null,
    brought: brought.map((r) => ({
      id: r.affiliate,
      name: names.get(r.affiliate) ?? r.affiliate,
      ...terms(r),
      earned: { amount: earned.get(r.affiliate) ?? 0, currency: base },
    })),
    usual: {
      percent: referralPpm ? percentDigits(referralPpm) : '',
      of: referralOf,
      months: referralMonths === null ? '' : String(referralMonths),
    },
  };
}

type NewReferral = Omit<ReferralRecord, 'id'>;

/** Who brings somebody in. @throws Problem `invalid` for somebody who cannot */
function readReferrer(app: App, affiliate: string, id: Id<'affiliate'>): void {
  if (id === affiliate) throw refuse('by', 'Nobody brings in themselves: choose another affiliate');
  const by = affiliateById(app, id);
  if (by.state !== 'active' && by.state !== 'paused')
    throw refuse('by', `${by.name} is ${by.state} and would earn nothing`);
  if (open(app, id)?.by === affiliate)
    throw refuse('by', `${by.name} was brought in by this affiliate: one of the two came first`);
}

/** A referral as typed, from now on. @throws Problem `invalid` */
function readReferralIn(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  input: BodyOf<typeof Call> & { by: string },
): NewReferral {
  readReferrer(app, affiliate, input.by);
  const percent = parsePercent(input.percent);
  if (!percent.ok) throw refuse('percent', `Referral share: ${percent.reason}`, '10');
  if (percent.value === 0) throw refuse('percent', 'Referral share: 0 % earns nothing; end it instead', '10');
  const months = readMonths(input.months, 'months');
  refuseWorst(app, { ppm: percent.value, of: input.of }, 'percent');
  const from = app.clock.now();
  return {
    affiliate,
    by: input.by,
    ppm: percent.value,
    of: input.of,
    from,
    until: months === null ? null : addZonedMonths(from, months, theProgramme(app).zone),
    setBy: actor.id,
  };
}

const isSameReferral = (a: NewReferral, b: NewReferral): boolean =>
  a.by === b.by && a.ppm === b.ppm && a.of === b.of && a.until === b.until;

/** Ends a referral from now on, and begins another. */
function writeReferral(app: App, before: ReferralRecord | null | undefined, next: NewReferral | null): void {
  if (before)
    app.db
      .update(referrals)
      .set({ until: Math.max(app.clock.now(), before.from) })
      .where(eq(referrals.id, before.id))
      .run();
  if (next)
    app.db
      .insert(referrals)
      .values({ id: newId('referral'), ...next })
      .run();
}

/** Sets or ends who brought an affiliate in, from now on: what was granted keeps its share. */
export function setReferral(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  input: BodyOf<typeof Call>,
): ReplyOf<typeof Call> {
  affiliateById(app, affiliate);
  const before = open(app, affiliate);
  const { by } = input;
  const next = by === null ? null : readReferralIn(app, actor, affiliate, { ...input, by });
  if (before && next && isSameReferral(before, next)) return readReferral(app, affiliate);
  writeReferral(app, before, next);
  if (before || next)
    record(app, actor, next ? 'referral-set' : 'referral-ended', {
      subject: affiliate,
      before: before ? inWords(app, before) : null,
      after: next ? inWords(app, next) : null,
    });
  if (!next) noteOfAffiliate(app, affiliate, { broughtBy: null });
  return readReferral(app, affiliate);
}

/** What sales of those an affiliate brought in have earned it, minor units of base, and how many those are. */
export function broughtBy(app: App, affiliate: Id<'affiliate'>): { count: number; earned: number } {
  const count = app.db
    .select({ n: sql<number>`count(DISTINCT ${referrals.affiliate})` })
    .from(referrals)
    .where(
      and(
        eq(referrals.by, affiliate),
        sql`(${referrals.until} IS NULL OR ${referrals.until} > ${referrals.from})`,
      ),
    )
    .get()!.n;
  const earned = app.db
    .select({
      n: sql<number>`coalesce(sum(${commissions.held} + ${commissions.cleared} + ${commissions.inRun} + ${commissions.paid}), 0)`,
    })
    .from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), eq(commissions.kind, 'referral')))
    .get()!.n;
  return { count, earned };
}
