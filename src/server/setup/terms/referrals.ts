import { and, eq, sql } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { setReferral as Call } from '../../../contract/setup/shares';
import { formatDay, formatEnd } from '../../../core/calendar/format';
import { endAt, inForce, isEmpty, isOver } from '../../../core/calendar/span';
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
import { earliestCut, isLowerReferral } from './cuts';
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

/** Who brings an affiliate in now, and what is scheduled to follow. */
function openReferrals(app: App, affiliate: Id<'affiliate'>) {
  const now = app.clock.now();
  const rows = statements(app)
    .of.all(affiliate)
    .filter((r) => !isEmpty(r) && !isOver(r, now));
  return { current: rows.find((r) => r.from <= now), coming: rows.find((r) => r.from > now) };
}

const open = (app: App, affiliate: Id<'affiliate'>): ReferralRecord | undefined =>
  openReferrals(app, affiliate).current;

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
    until: r.until === null ? 'open' : formatEnd(r.until, theProgramme(app).zone),
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
      untilSet: until,
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

const termsShown = ({ ppm, of, from, until }: ReferralRecord) => ({
  percent: percentDigits(ppm),
  of,
  from,
  until,
});

/** What is scheduled to follow the referral that is in force: another, or its end. */
function nextOf(
  { current, coming }: ReturnType<typeof openReferrals>,
  nameOf: (id: Id<'affiliate'>) => string,
): ReplyOf<typeof Call>['next'] {
  if (coming) return { name: nameOf(coming.by), ...termsShown(coming) };
  if (!current?.until || !endsSooner(current)) return null;
  return { name: null, percent: '0', of: current.of, from: current.until, until: null };
}

export function readReferral(app: App, affiliate: Id<'affiliate'>): ReplyOf<typeof Call> {
  const row = affiliateById(app, affiliate);
  const { base, referralPpm, referralOf, referralMonths } = theProgramme(app);
  const found = openReferrals(app, affiliate);
  const { current: now, coming } = found;
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
    ...(coming ? [coming.by] : []),
    ...(row.broughtBy ? [row.broughtBy] : []),
  ]);
  return {
    by: now
      ? {
          id: now.by,
          name: names.get(now.by) ?? now.by,
          state: affiliateById(app, now.by).state,
          ...termsShown(now),
        }
      : null,
    next: nextOf(found, (id) => names.get(id) ?? id),
    waitsFor: !now && row.joinedAt === null && row.broughtBy ? (names.get(row.broughtBy) ?? null) : null,
    brought: brought.map((r) => ({
      id: r.affiliate,
      name: names.get(r.affiliate) ?? r.affiliate,
      ...termsShown(r),
      earned: { amount: earned.get(r.affiliate) ?? 0, currency: base },
    })),
    usual: {
      percent: referralPpm ? percentDigits(referralPpm) : '',
      of: referralOf,
      months: referralMonths === null ? '' : String(referralMonths),
    },
  };
}

/** True for one whose end was brought forward by an act that waits for its notice. */
const endsSooner = ({ until, untilSet }: ReferralRecord): boolean =>
  until !== null && (untilSet === null || until < untilSet);

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

/** A referral as typed, from a moment on. @throws Problem `invalid` */
function readReferralIn(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  input: BodyOf<typeof Call> & { by: Id<'affiliate'> },
): (from: number) => NewReferral {
  readReferrer(app, affiliate, input.by);
  const percent = parsePercent(input.percent);
  if (!percent.ok) throw refuse('percent', `Referral share: ${percent.reason}`, '10');
  if (percent.value === 0) throw refuse('percent', 'Referral share: 0 % earns nothing; end it instead', '10');
  const months = readMonths(input.months, 'months');
  refuseWorst(app, { ppm: percent.value, of: input.of }, 'percent');
  return (from) => {
    const until = months === null ? null : addZonedMonths(from, months, theProgramme(app).zone);
    const terms = { by: input.by, ppm: percent.value, of: input.of, from, until, untilSet: until };
    return { affiliate, ...terms, setBy: actor.id };
  };
}

const isSameReferral = (a: NewReferral, b: NewReferral): boolean =>
  a.by === b.by && a.ppm === b.ppm && a.of === b.of && a.until === b.until;

const endReferral = (app: App, { id }: ReferralRecord, until: number | null): void => {
  app.db.update(referrals).set({ until }).where(eq(referrals.id, id)).run();
};

/** Withdraws what is scheduled to follow: it never begins, and what is in force runs on to the end it was set with. @returns what is in force */
function withdrawComing(app: App, affiliate: Id<'affiliate'>): ReferralRecord | undefined {
  const { current, coming } = openReferrals(app, affiliate);
  if (coming) endReferral(app, coming, coming.from);
  if (!current || !endsSooner(current)) return current;
  const until = current.untilSet;
  endReferral(app, current, until);
  return { ...current, until };
}

/** When a change of who brought an affiliate in takes effect: at once, or where it pays the present one less, after the promised notice. */
function takesEffect(
  app: App,
  affiliate: Id<'affiliate'>,
  before: ReferralRecord | undefined,
  next: NewReferral | null,
): number {
  if (!before) return app.clock.now();
  const own = next?.by === before.by ? next : null;
  return isLowerReferral(app, affiliate, before, own) ? earliestCut(app) : app.clock.now();
}

/**
 * Sets or ends who brought an affiliate in: what was granted keeps its share. What pays the present one less takes
 * effect after the promised notice; a choice of what is in force withdraws what is scheduled.
 */
export function setReferral(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  input: BodyOf<typeof Call>,
): ReplyOf<typeof Call> {
  affiliateById(app, affiliate);
  const { by } = input;
  const typed = by === null ? null : readReferralIn(app, actor, affiliate, { ...input, by });
  const before = withdrawComing(app, affiliate);
  const next = typed?.(app.clock.now()) ?? null;
  if (before && next && isSameReferral(before, next)) return readReferral(app, affiliate);
  const at = takesEffect(app, affiliate, before, next);
  if (before) endReferral(app, before, endAt(before, at));
  if (typed)
    app.db
      .insert(referrals)
      .values({ id: newId('referral'), ...typed(at) })
      .run();
  recordSet(app, actor, affiliate, { before, next, at });
  if (!next) noteOfAffiliate(app, affiliate, { broughtBy: null });
  return readReferral(app, affiliate);
}

interface SetReferral {
  before: ReferralRecord | undefined;
  next: NewReferral | null;
  /** when it takes effect */
  at: number;
}

function recordSet(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  { before, next, at }: SetReferral,
): void {
  if (!before && !next) return;
  record(app, actor, next ? 'referral-set' : 'referral-ended', {
    subject: affiliate,
    before: before ? inWords(app, before) : null,
    after: {
      ...(next ? inWords(app, next) : {}),
      ...(at > app.clock.now() ? { from: formatDay(at, theProgramme(app).zone) } : {}),
    },
  });
}

/** Undoes a change of a referral that has not begun. */
export function undoReferral(app: App, actor: Actor, row: ReferralRecord): void {
  withdrawComing(app, row.affiliate);
  record(app, actor, 'referral-undone', { subject: row.affiliate, before: inWords(app, row), after: null });
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
