import { and, eq, lt, ne, sql } from 'drizzle-orm';
import { dayOf, millisecondsInDay } from '../../../core/calendar/zone';
import { claimsIn, unborne } from '../../../core/recruiting/claims';
import { addressKey, clearedBand, shrunkRefundRate, tenure } from '../../../core/recruiting/evidence';
import { kindsIn, mismatch } from '../../../core/recruiting/kinds';
import { strictest } from '../../../core/recruiting/practices';
import type { ScreeningFacts } from '../../../core/recruiting/rules';
import { standingOf, standingParts } from '../../../core/recruiting/standing';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { commissions } from '../../ground/tables/ledger';
import { refunds } from '../../ground/tables/orders';
import { affiliates } from '../../ground/tables/people';
import { theProgramme } from '../../registers/programme/record';
import { judgedIn, wasAsked } from '../practices/meant';
import { permissionsOf } from '../practices/permissions';
import { prospectByMail } from '../prospects/copy';
import { alikeNotes, mostCandidates, sideBySide, type Alike } from './notes';

export interface Record {
  sales: number;
  refunded: number;
  cleared: string;
  refundRate: number;
}

/** Sales of an affiliate past their refund window at a moment, how many of them had been refunded by then, and the shrunk rate. */
export function recordOf(app: App, affiliate: Id<'affiliate'>, at = app.clock.now()): Record {
  const past = and(
    eq(commissions.affiliate, affiliate),
    eq(commissions.kind, 'commission'),
    lt(commissions.refundableUntil, at),
  );
  const sales = app.db
    .select({ n: sql<number>`count(*)` })
    .from(commissions)
    .where(past)
    .get()!.n;
  const refunded =
    sales === 0
      ? 0
      : app.db
          .select({ n: sql<number>`count(DISTINCT ${commissions.id})` })
          .from(commissions)
          .innerJoin(refunds, and(eq(refunds.order, commissions.order), lt(refunds.at, at)))
          .where(past)
          .get()!.n;
  return {
    sales,
    refunded,
    cleared: clearedBand(sales - refunded),
    refundRate: shrunkRefundRate(refunded, sales),
  };
}

type Application = Pick<typeof applications.$inferSelect, 'id' | 'affiliate' | 'note' | 'channels'>;
type Affiliate = typeof affiliates.$inferSelect;

/** What the applicant's kinds have against the programme's wishes. */
function mismatchOf(app: App, application: Application, affiliate: Affiliate): string | null {
  const { kindsWanted, kindsUnwanted } = theProgramme(app);
  return mismatch(
    affiliate.kind ? [affiliate.kind] : kindsIn(application.channels || affiliate.audience),
    kindsWanted,
    kindsUnwanted,
  );
}

/** What the registry knows of the applicant, recognised by the host of the e-mail address. */
function registryRecord(app: App, affiliate: Affiliate) {
  const p = prospectByMail(app, affiliate.email);
  return (
    p && {
      id: p.id,
      name: p.name,
      cleared: clearedBand(p.sales - p.refunds),
      sales: p.sales,
      refunds: p.refunds,
      refundRate: shrunkRefundRate(p.refunds, p.sales),
      since: p.since,
      vouched: p.vouched,
    }
  );
}

const tenureDaysOf = (affiliate: Affiliate, at: number) =>
  affiliate.joinedAt === null || affiliate.joinedAt > at
    ? null
    : Math.floor((at - affiliate.joinedAt) / millisecondsInDay);

function standing(application: Application, affiliate: Affiliate, found: Record, at: number) {
  const parts = standingParts(
    {
      cleared: found.sales - found.refunded,
      refundPpm: found.refundRate,
      tenureDays: tenureDaysOf(affiliate, at) ?? 0,
      sites: affiliate.sites.length,
      introduction: affiliate.audience,
      note: application.note,
    },
    found.sales,
  );
  return parts && { points: standingOf(parts), parts };
}

/** The large claim that the record does not bear out, in words; null where nothing contradicts. */
function unborneWords(
  app: App,
  application: Application,
  affiliate: Affiliate,
  found: Record,
): string | null {
  const claim = unborne(
    claimsIn(application.note),
    found.sales - found.refunded,
    tenureDaysOf(affiliate, app.clock.now()),
  );
  return claim && `says “${claim.text}”, cleared sales: ${found.cleared}`;
}

const mostSame = 20;

/** Others who are paid to the same account, or who gave the same postal address. */
export function sameDetails(
  app: App,
  affiliate: Affiliate,
): { affiliate: Id<'affiliate'>; name: string; state: string; why: string }[] {
  const key = addressKey(affiliate.address);
  const byIban =
    affiliate.payeeIban === ''
      ? []
      : app.db
          .select()
          .from(affiliates)
          .where(
            and(
              eq(affiliates.payeeIban, affiliate.payeeIban),
              ne(affiliates.payeeIban, ''),
              ne(affiliates.id, affiliate.id),
            ),
          )
          .limit(mostSame)
          .all();
  const byAddress =
    key === ''
      ? []
      : app.db
          .select()
          .from(affiliates)
          .where(and(eq(affiliates.addressKey, key), ne(affiliates.id, affiliate.id)))
          .limit(mostSame)
          .all();
  const why = new Map<string, { who: Affiliate; why: string[] }>();
  for (const who of byIban) why.set(who.id, { who, why: ['the same payout account'] });
  for (const who of byAddress)
    why.set(who.id, { who, why: [...(why.get(who.id)?.why ?? []), 'the same address'] });
  return [...why.values()].map(({ who, why: reasons }) => ({
    affiliate: who.id,
    name: who.name,
    state: who.state,
    why: reasons.join(' and '),
  }));
}

/** Notes that are compared for a row of the queue: enough to say whether there is one. */
const comparedInRow = 3;
const likeCount = ({ like, more }: Alike) => like.length + more;

/** So many notes are laid side by side; how many more there are is said. */
const mostAlike = 5;

/** Everything shown about an applicant beside the decision. */
export function evidenceOf(app: App, application: typeof applications.$inferSelect, affiliate: Affiliate) {
  const found = recordOf(app, affiliate.id);
  const { zone, refundLine } = theProgramme(app);
  const { years, days } = tenure(
    dayOf(affiliate.joinedAt ?? affiliate.createdAt, zone),
    dayOf(app.clock.now(), zone),
  );
  const earlier = app.db
    .select({
      id: applications.id,
      at: applications.createdAt,
      state: applications.state,
      product: products.name,
    })
    .from(applications)
    .leftJoin(products, eq(products.id, applications.product))
    .where(eq(applications.affiliate, affiliate.id))
    .orderBy(applications.createdAt)
    .all();
  const alike = alikeNotes(app, application, mostAlike);
  return {
    cleared: found.cleared,
    sales: found.sales,
    refunds: found.refunded,
    refundRate: found.refundRate,
    aboveLine: found.sales > 0 && found.refundRate > refundLine,
    line: refundLine,
    registry: registryRecord(app, affiliate),
    mismatch: mismatchOf(app, application, affiliate),
    tenure:
      affiliate.joinedAt === null
        ? 'not an affiliate yet'
        : `${years} ${years === 1 ? 'year' : 'years'} ${days} ${days === 1 ? 'day' : 'days'}`,
    earlier: earlier
      .filter((e) => e.id !== application.id)
      .map(({ at, state, product }) => ({ at, state, product })),
    standing: standing(application, affiliate, found, app.clock.now()),
    claims: claimsIn(application.note),
    unborne: unborneWords(app, application, affiliate, found),
    alike: alike.like.map(({ note, ...a }) => ({
      ...a,
      state: a.state as 'waiting',
      ...sideBySide(application.note, note),
    })),
    alikeMore: alike.more,
    same: sameDetails(app, affiliate),
  };
}

/** Tenure as a row has room for it: "2 y 40 d"; null for who has not joined. */
export function tenureShort(app: App, affiliate: Pick<Affiliate, 'joinedAt'>): string | null {
  if (affiliate.joinedAt === null) return null;
  const { zone } = theProgramme(app);
  const { years, days } = tenure(dayOf(affiliate.joinedAt, zone), dayOf(app.clock.now(), zone));
  return years ? `${years} y ${days} d` : `${days} d`;
}

/** How many notes are nearly the same: kept until another application comes, since a page of the queue is looked at again and again. */
const alikeKept = perApp(() => ({ newest: 0, counts: new Map<string, number>() }));
/** Changes with each application; -1 while some are not findable yet, when nothing can be kept. */
const newest = perApp((app) =>
  app.sqlite
    .prepare<[], number>(
      'SELECT iif(EXISTS (SELECT 1 FROM applications WHERE indexed = 0), -1, (SELECT coalesce(max(rowid), 0) FROM applications))',
    )
    .pluck(),
);

function alikeInRow(app: App, application: Application): number {
  const kept = alikeKept(app);
  const last = newest(app).get()!;
  if (kept.newest !== last || last < 0) {
    kept.newest = last;
    kept.counts.clear();
  }
  const known = kept.counts.get(application.id);
  if (known !== undefined) return known;
  const count = likeCount(alikeNotes(app, application, comparedInRow));
  kept.counts.set(application.id, count);
  return count;
}

function alikeInWords(count: number): string | null {
  if (!count) return null;
  const others = `${count}${count >= mostCandidates - 1 ? ' or more' : ''} others`;
  return `note nearly the same as ${count === 1 ? 'another' : others}`;
}

/** What the policy has against what an applicant means to use, and what it does not say of itself. */
function practiceRemarks(app: App, application: Application, affiliate: Affiliate): string[] {
  const judged = judgedIn(app, application, affiliate);
  if (!judged.length) return [];
  const answered = new Set(permissionsOf(app, affiliate.id).map((p) => p.practice));
  const named = (list: typeof judged) => list.map((j) => `“${j.name}”`).join(', ');
  const notHere = judged.filter((j) => j.answer === 'not-here' && !answered.has(j.key));
  const asks = judged.filter((j) => j.answer === 'ask-first' && !answered.has(j.key));
  const denied = wasAsked(app, application.id)
    ? judged.filter((j) => j.said && !j.ticked && j.answer !== 'welcome')
    : [];
  return [
    ...(notHere.length ? [`not here: ${named(notHere)}`] : []),
    ...(asks.length ? [`asks about ${named(asks)}`] : []),
    ...(denied.length ? [`its words speak of ${named(denied)}, which is not ticked`] : []),
  ];
}

/** Short remarks on an application, the gravest first. */
function remarksOn(app: App, application: Application, affiliate: Affiliate, found: Record): string[] {
  const isAbove = found.sales > 0 && found.refundRate > theProgramme(app).refundLine;
  return [
    affiliate.state === 'blocked' && 'blocked before',
    application.note.trim() === '' && 'no note',
    alikeInWords(alikeInRow(app, application)),
    unborneWords(app, application, affiliate, found),
    sameDetails(app, affiliate).length > 0 && 'somebody else has the same details',
    isAbove && 'refunds above your line',
    mismatchOf(app, application, affiliate),
    ...practiceRemarks(app, application, affiliate),
  ].filter((remark): remark is string => !!remark);
}

/** What the row of the queue says: the standing where there is one, and short remarks. */
export function rowEvidence(
  app: App,
  application: Application,
  affiliate: Affiliate,
  found: Record,
): { standing: number | null; remarks: string[]; vouched: boolean } {
  return {
    standing: standing(application, affiliate, found, app.clock.now())?.points ?? null,
    remarks: remarksOn(app, application, affiliate, found),
    vouched: (prospectByMail(app, affiliate.email)?.vouched ?? '') !== '',
  };
}

/** What screening rules judge, on what was known at a moment: when it was applied, for the past. */
export function factsOf(
  app: App,
  application: Application & { product: Id<'product'> | null },
  affiliate: Affiliate,
  at = app.clock.now(),
): ScreeningFacts {
  const found = recordOf(app, affiliate.id, at);
  const judged = judgedIn(app, application, affiliate);
  return {
    cleared: found.sales - found.refunded,
    refundPpm: found.refundRate,
    standing: standing(application, affiliate, found, at)?.points ?? null,
    tenureDays: tenureDaysOf(affiliate, at),
    country: affiliate.country,
    note: application.note.trim() !== '',
    alike: likeCount(alikeNotes(app, application, comparedInRow, at)),
    product: application.product,
    practices: judged.map((j) => j.key),
    strictest: strictest(judged.map((j) => j.answer)),
    vouched: (prospectByMail(app, affiliate.email)?.vouched ?? '') !== '',
  };
}
