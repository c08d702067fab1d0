import { and, desc, eq, isNotNull } from 'drizzle-orm';
import { electronicFormatIBAN, isValidIBAN } from 'ibantools';
import type { FieldFault } from '../../contract/explain';
import { describeBarred } from '../../core/attribution/barred';
import { millisecondsInDay } from '../../core/calendar/zone';
import { formatMoney } from '../../core/money/amount';
import { formatPercent } from '../../core/money/percent';
import { transferText } from '../../core/payouts/characters';
import type { Id } from '../../core/text/id';
import { asAffiliate, type Actor, type App } from '../ground/context';
import { afterCursor, cut, inOrder } from '../ground/db/page';
import { invalid, Problem } from '../ground/http/problem';
import { products } from '../ground/tables/catalogue';
import { commissions } from '../ground/tables/ledger';
import { orders } from '../ground/tables/orders';
import { visits } from '../ground/tables/visits';
import { balancesOf, commissionRows } from '../ledger/service';
import { waitingOf } from '../recruit/applications/counts';
import { record } from '../registers/access/audit';
import { askAgain } from '../registers/accounts/signin';
import { logoAddress } from '../registers/catalogue/files';
import { productById } from '../registers/catalogue/store';
import { queue } from '../registers/outbox/queue';
import { affiliateById, detailsComplete, maskedIban } from '../registers/people/record';
import { changeAffiliate } from '../registers/people/write';
import { theProgramme } from '../registers/programme/record';
import { ownAcceptance } from '../setup/policy/acceptance';
import { ownPlaces } from '../setup/terms/cards';
import { ownedBy } from '../setup/terms/coowners';
import { termsInForce } from '../setup/terms/in-force';
import { broughtBy } from '../setup/terms/referrals';
import { clicksOf, ordersOf } from '../totals/affiliates';
import { shareWorking } from '../track/crediting/shareview';
import { workingOf } from '../track/orders/orders';

export function readHome(app: App, affiliate: Id<'affiliate'>) {
  const row = affiliateById(app, affiliate);
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const b = balancesOf(app, affiliate);
  const since = app.clock.now() - 30 * millisecondsInDay;
  const last = app.db
    .select({ at: visits.at, product: products.name, barred: visits.barred })
    .from(visits)
    .leftJoin(products, eq(products.id, visits.product))
    .where(eq(visits.affiliate, affiliate))
    .orderBy(desc(visits.at))
    .limit(8)
    .all();
  return {
    links: termsInForce(app, affiliate)
      .filter((t) => t.link !== null)
      .map((t) => ({
        product: t.name,
        code: t.code,
        price: t.price === null ? '' : formatMoney({ amount: t.price, currency: t.currency }),
        reward: t.reward,
        renewals: t.renewals,
        timing: t.timing,
        link: t.link!,
      })),
    balances: { held: money(b.held), cleared: money(b.cleared), inRun: money(b.inRun), paid: money(b.paid) },
    clicks30: clicksOf(app, affiliate, since),
    orders30: ordersOf(app, affiliate, since),
    visits: last.map((v) => ({
      at: v.at,
      product: v.product ?? theProgramme(app).name,
      counted: v.barred && describeBarred(v.barred),
    })),
    detailsComplete: detailsComplete(row),
    policy: row.promotes ? ownAcceptance(app, affiliate) : null,
    waiting: waitingOf(app, affiliate),
    places: ownPlaces(app, affiliate),
    promotes: row.promotes,
    referral: referralOf(app, row),
    owns: ownedBy(app, affiliate).map((o) => ({
      product: productById(app, o.product)?.name ?? '',
      percent: formatPercent(o.ppm),
    })),
  };
}

/** How an affiliate brings others in, where the programme rewards it or it has earned by it. */
function referralOf(app: App, row: { id: Id<'affiliate'>; handle: string; promotes: boolean }) {
  const { base, referralPpm, referralOf: basis, referralMonths } = theProgramme(app);
  const { count, earned } = broughtBy(app, row.id);
  if ((referralPpm === 0 || !row.promotes) && count === 0) return null;
  const time =
    referralMonths === null
      ? 'for as long as they are with us'
      : `for ${referralMonths} ${referralMonths === 1 ? 'month' : 'months'} from the day they join`;
  return {
    address: `${app.address}/join?by=${row.handle}`,
    count,
    earned: { amount: earned, currency: base },
    said:
      referralPpm === 0
        ? 'Newcomers are not shared any more; what was agreed before runs on.'
        : `You get ${formatPercent(referralPpm)} of ${basis === 'sale' ? 'each sale' : 'each commission'} of those who join by it, ${time}. It comes out of our part, not out of theirs.`,
  };
}

function earningRows(app: App, rows: (typeof commissions.$inferSelect)[]) {
  const declined = new Map(rows.map((r) => [r.id, r.declined]));
  return commissionRows(app, rows).map((r) => ({
    id: r.id,
    kind: r.kind,
    order: r.order,
    soldAt: r.soldAt,
    products: r.product,
    value: r.value,
    granted: r.granted,
    left: r.left,
    state: r.state,
    clearsAt: r.clearsAt,
    declined: declined.get(r.id) ?? null,
  }));
}

const keyset = { by: commissions.soldAt, id: commissions.id, order: 'desc' } as const;

export function listEarnings(
  app: App,
  affiliate: Id<'affiliate'>,
  filter: { after?: string; limit?: number },
) {
  const limit = filter.limit ?? 50;
  const found = app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), afterCursor(keyset, filter.after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.soldAt, r.id]);
  return { rows: earningRows(app, rows), next };
}

/** The working of an own commission or share. Another's does not exist here. */
export function readEarning(app: App, affiliate: Id<'affiliate'>, id: Id<'commission'>) {
  const row = app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.id, id), eq(commissions.affiliate, affiliate)))
    .get();
  const order = row && app.db.select().from(orders).where(eq(orders.id, row.order)).get();
  if (row && order && row.kind !== 'commission')
    return { row: earningRows(app, [row])[0]!, working: shareWorking(app, order, row) };
  const found =
    row &&
    app.db
      .select()
      .from(orders)
      .where(and(eq(orders.id, row.order), eq(orders.affiliate, affiliate), isNotNull(orders.working)))
      .get();
  if (!row || !found) throw new Problem('not-found', 'This commission does not exist');
  const working = workingOf(app, found, false);
  // other affiliates' visits of the same buyer are none of this one's business
  const considered = working.credit.considered.map((c) =>
    c.who === affiliateById(app, affiliate).name ? c : { ...c, who: 'another affiliate' },
  );
  const changes = working.changes.map((c) =>
    c.what.startsWith('Given up') ? { ...c, what: 'Negative balance given up' } : c,
  );
  return {
    row: earningRows(app, [row])[0]!,
    working: { ...working, changes, credit: { ...working.credit, considered } },
  };
}

/** Payout details as the affiliate keeps them. @param looking true: for staff, who see an account number with its middle hidden */
export function readDetails(app: App, affiliate: Id<'affiliate'>, looking = false) {
  const row = affiliateById(app, affiliate);
  return {
    holder: row.payeeHolder,
    iban: looking ? maskedIban(row.payeeIban) : row.payeeIban,
    address: row.payeeAddress,
    letters: row.newsletters,
    version: row.version,
  };
}

interface DetailsIn {
  holder: string;
  iban: string;
  address: string;
  version: number;
  password: string;
}

/** What of payout details no transfer could carry, and an IBAN whose check digits do not fit. */
function detailFaults(input: DetailsIn, iban: string): FieldFault[] {
  const faults: FieldFault[] = [];
  for (const [field, title, example] of [
    ['holder', 'Account holder', 'Mara Lindqvist-Okello'],
    ['address', 'Address', 'Rua do Forno 4, Barrancos'],
  ] as const) {
    const read = transferText(input[field]);
    if (!read.ok) faults.push({ pointer: `/${field}`, detail: `${title} ${read.why}`, example });
  }
  if (!isValidIBAN(iban))
    faults.push({
      pointer: '/iban',
      detail: 'IBAN: the check digits do not fit, so a digit is wrong, missing or swapped',
      example: 'PT50 0002 0123 1234 5678 9015 4',
    });
  return faults;
}

/**
 * Sets payout details: the password is asked for again, since an open browser is no proof of the person, and the person is told at the address that is
 * known, in case it was somebody else. @throws Problem `invalid` with every field at fault, `stale`, `too-many`
 */
export async function setDetails(
  app: App,
  actor: Actor,
  input: DetailsIn,
): Promise<ReturnType<typeof readDetails>> {
  const affiliate = asAffiliate(actor);
  const iban = electronicFormatIBAN(input.iban) ?? '';
  const faults = detailFaults(input, iban);
  if (faults.length) throw invalid(faults);
  await askAgain(app, {
    person: affiliateById(app, affiliate),
    password: input.password,
    field: 'password',
  });
  return app.transaction(() => {
    // hashing took a moment: what stands is read now
    const row = affiliateById(app, affiliate);
    if (row.version !== input.version)
      throw new Problem(
        'stale',
        'Your details were changed meanwhile, perhaps in another window. What you typed is kept in the form; compare and save again.',
        { current: readDetails(app, affiliate) },
      );
    changeAffiliate(app, affiliate, {
      payeeHolder: input.holder.trim(),
      payeeIban: iban,
      payeeAddress: input.address.trim(),
    });
    record(app, actor, 'payout-details-changed', {
      subject: affiliate,
      before: { holder: row.payeeHolder, iban: maskedIban(row.payeeIban) },
      after: { holder: input.holder.trim(), iban: maskedIban(iban) },
    });
    tellOfDetails(app, row, iban);
    return readDetails(app, affiliate);
  });
}

function tellOfDetails(app: App, row: ReturnType<typeof affiliateById>, iban: string): void {
  const { name, contact } = theProgramme(app);
  const was = row.payeeIban ? ` Before, it was the account ending in ${row.payeeIban.slice(-4)}.` : '';
  queue(app, {
    to: row.email,
    affiliate: row.id,
    kind: 'payout-details-changed',
    subject: 'Where we pay you was changed',
    body: `Hello ${row.name},\n\nyour payout details were changed just now: we pay to the account ending in ${iban.slice(-4)} from now on.${was} If it was not you, tell us at once: ${contact}\n\n${name}`,
  });
}

/** The programme as the portal shows it. */
export function portalProgramme(app: App) {
  const { name, base, zone, contact } = theProgramme(app);
  return { name, base, zone, contact, logo: logoAddress(app) };
}
