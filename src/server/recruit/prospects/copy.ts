import { eq } from 'drizzle-orm';
import { dayOf } from '../../../core/calendar/zone';
import { shrunkRefundRate } from '../../../core/recruiting/evidence';
import { hostOf, searchKey, siteKeys } from '../../../core/recruiting/prospects';
import { standingOf, standingParts } from '../../../core/recruiting/standing';
import { printable } from '../../../core/text/characters';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import type { RegistryPartner, RegistryPort } from '../../ground/ports';
import { prospects, registrySync } from '../../ground/tables/prospects';
import { programmeOrNull, registryOf } from '../../registers/programme/record';
import { siteGap } from './sitegap';

/** A copy that is this old is made again. */
const copyEvery = 12 * 3_600_000;
const retryAfter = 60_000;
/** so many are written before others get their turn */
const atOnce = 50;
const noStanding = -1;

/** The parts of a partner's standing by what the registry knows of it; null without a sale. */
export function partnerStanding(
  p: Pick<RegistryPartner, 'sales' | 'refunds' | 'since' | 'sites' | 'intro'>,
  today: string,
) {
  const tenureDays = Math.max(
    0,
    Math.round((Date.parse(`${today}T00:00:00Z`) - Date.parse(`${p.since}T00:00:00Z`)) / 86_400_000),
  );
  return standingParts(
    {
      cleared: p.sales - p.refunds,
      refundPpm: shrunkRefundRate(p.refunds, p.sales),
      tenureDays,
      sites: p.sites.length,
      introduction: p.intro,
      note: p.intro,
    },
    p.sales,
  );
}

/** The host of an e-mail address, as the index of affiliates has it. */
const mailHost = "substr(email_key, instr(email_key, '@') + 1)";

const statements = perApp((app) => ({
  find: app.sqlite.prepare<
    [string],
    { n: number; name: string; sites: string; kinds: string; intro: string }
  >('SELECT n, name, sites, kinds, intro FROM prospects WHERE id = ?'),
  put: app.sqlite.prepare(
    'INSERT INTO prospects (id, name, name_key, country, sites, kinds, audience, intro, sales, refunds, since, standing, vouched, changed_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
  ),
  change: app.sqlite.prepare(
    'UPDATE prospects SET name = ?, name_key = ?, country = ?, sites = ?, kinds = ?, audience = ?, intro = ?, sales = ?, refunds = ?, since = ?, standing = ?, vouched = ?, changed_at = ? WHERE n = ?',
  ),
  forget: app.sqlite.prepare('DELETE FROM prospect_text WHERE rowid = ?'),
  index: app.sqlite.prepare('INSERT INTO prospect_text (rowid, name, sites, words) VALUES (?, ?, ?, ?)'),
  unsite: app.sqlite.prepare('DELETE FROM prospect_sites WHERE prospect = ?'),
  site: app.sqlite.prepare(
    'INSERT INTO prospect_sites (host, prospect, search) VALUES (?, ?, ?) ON CONFLICT DO NOTHING',
  ),
  joinedBy: app.sqlite.prepare<[string], { id: string }>(
    `SELECT id FROM affiliates WHERE ${mailHost} = ? AND joined_at IS NOT NULL`,
  ),
  join: app.sqlite.prepare("UPDATE prospects SET state = 'joined', affiliate = ? WHERE n = ?"),
}));

/** Words of a partner that are searched beside its name and sites. */
export const wordsOf = (p: Pick<RegistryPartner, 'kinds' | 'intro'>) => `${p.kinds.join(' ')} ${p.intro}`;

const counted = perApp(() => ({ writes: 0 }));
/** Changes with every write to what is searched of partners. */
export const copyCount = (app: App): number => counted(app).writes;

/** Words of the registry end up in mails, lists and files: what cannot be shown stops here. */
const shown = (partner: RegistryPartner): RegistryPartner => ({
  ...partner,
  name: printable(partner.name),
  country: printable(partner.country),
  sites: partner.sites.map((s) => printable(s)),
  intro: printable(partner.intro, true),
});

function fieldsOf(p: RegistryPartner, today: string) {
  const parts = partnerStanding(p, today);
  return [
    p.name,
    searchKey(p.name),
    p.country,
    JSON.stringify(p.sites),
    JSON.stringify(p.kinds),
    p.audience,
    p.intro,
    p.sales,
    p.refunds,
    p.since,
    parts ? standingOf(parts) : noStanding,
    p.vouched,
    p.changedAt,
  ] as const;
}

type Known = Pick<typeof prospects.$inferSelect, 'name' | 'intro'> & { sites: string; kinds: string };

/** True where what a partner is found by has not changed. */
const isFoundAsBefore = (known: Known, p: RegistryPartner): boolean =>
  known.name === p.name &&
  known.sites === JSON.stringify(p.sites) &&
  known.kinds === JSON.stringify(p.kinds) &&
  known.intro === p.intro;

/** Writes what a partner is found by: hosts, name, sites and words, as written and as sent over the wire, where a host has other letters than ASCII. */
function indexPartner(app: App, n: number, p: RegistryPartner): void {
  const s = statements(app);
  for (const site of p.sites) {
    const host = hostOf(site);
    if (host) for (const key of siteKeys(site)) s.site.run(host, n, key.slice(0, 200));
  }
  counted(app).writes += 1;
  const sites = [...new Set(p.sites.flatMap(siteKeys))].join(siteGap);
  s.index.run(n, searchKey(p.name), sites, searchKey(wordsOf(p)));
}

function takePartner(app: App, p: RegistryPartner, today: string): void {
  const s = statements(app);
  const known = s.find.get(p.id);
  const fields = fieldsOf(p, today);
  if (known && isFoundAsBefore(known, p)) {
    s.change.run(...fields, known.n);
    return;
  }
  const n = known ? known.n : Number(s.put.run(p.id, ...fields).lastInsertRowid);
  if (known) {
    s.change.run(...fields, n);
    s.forget.run(n);
    s.unsite.run(n);
  }
  indexPartner(app, n, p);
  const hosts = [...new Set(p.sites.map(hostOf).filter((h): h is string => h !== null))];
  const ours = hosts.map((h) => s.joinedBy.get(h)).find(Boolean);
  if (ours) s.join.run(ours.id, n);
}

/** Writes partners into our copy; those that were there are brought up to date, and what we know of them stays. */
export function takePartners(app: App, rows: readonly RegistryPartner[]): void {
  const today = dayOf(app.clock.now(), programmeOrNull(app)?.zone ?? 'UTC');
  // after a power cut the registry is read once more from where it was noted last
  app.repeatable(() => {
    for (const partner of rows) takePartner(app, shown(partner), today);
  });
}

/** How the copy stands. */
export function copyOf(app: App) {
  const row = app.db.select().from(registrySync).where(eq(registrySync.id, 1)).get();
  const partners = app.sqlite.prepare('SELECT count(*) FROM prospects').pluck().get() as number;
  return {
    partners,
    doneAt: row?.doneAt ?? null,
    copying: row?.begunAt !== null && row?.begunAt !== undefined && row.fault === null,
    fault: row?.fault ?? null,
    faultAt: row?.faultAt ?? null,
    registry: registryOf(app) !== null,
  };
}

function note(app: App, fields: Partial<typeof registrySync.$inferInsert>): void {
  app.db
    .insert(registrySync)
    .values({ id: 1, ...fields })
    .onConflictDoUpdate({ target: registrySync.id, set: fields })
    .run();
}

/** Notes that the copy is that of this moment. */
export function registryWasRead(app: App): void {
  note(app, { after: null, begunAt: null, doneAt: app.clock.now(), fault: null, faultAt: null });
}

const running = new WeakSet<App>();

type Sync = typeof registrySync.$inferSelect;

/** True where the copy is young, or the registry failed a moment ago. */
function isTooSoon(app: App, at: Sync | undefined): boolean {
  if (!at) return false;
  if (at.faultAt && app.clock.real() - at.faultAt < retryAfter) return true;
  return !at.begunAt && at.doneAt !== null && app.clock.now() - at.doneAt < copyEvery;
}

/** Reads the registry from where the last copy stopped. */
async function copyPages(app: App, port: RegistryPort, at: Sync | undefined): Promise<void> {
  let after = at?.begunAt ? at.after : null;
  note(app, { begunAt: at?.begunAt ?? app.clock.now(), fault: null, faultAt: null });
  for (;;) {
    const page = await port.partners(after, at?.doneAt ?? null);
    for (let i = 0; i < page.rows.length; i += atOnce) {
      takePartners(app, page.rows.slice(i, i + atOnce));
      // between two pieces, whoever waits is served
      await new Promise((resolve) => {
        setTimeout(resolve, 5);
      });
    }
    after = page.next;
    if (after === null) break;
    note(app, { after });
  }
  registryWasRead(app);
}

/**
 * Reads the registry page by page into our copy; one that was interrupted goes on where it stopped. What fails is noted and tried
 * again later; the copy that is there stays good. @param now true: also where the copy is young
 */
export async function copyRegistry(app: App, now = false): Promise<boolean> {
  const port = registryOf(app);
  if (!port || running.has(app)) return false;
  const at = app.db.select().from(registrySync).where(eq(registrySync.id, 1)).get();
  if (!now && isTooSoon(app, at)) return false;
  running.add(app);
  try {
    await copyPages(app, port, at);
    return true;
  } catch (fault) {
    if (!app.sqlite.open) return false;
    note(app, {
      fault: fault instanceof Error ? fault.message.slice(0, 300) : 'The registry failed',
      faultAt: app.clock.real(),
    });
    app.log.warn({ err: fault }, 'the registry could not be read; our copy stays as it is');
    return false;
  } finally {
    running.delete(app);
  }
}

/** A partner as it is found by a host of its sites. */
interface Listed {
  n: number;
  id: string;
  name: string;
  vouched: string;
  sales: number;
  refunds: number;
  since: string;
  state: string;
}

// asked for with every application that is shown or decided
const listedUnder = perApp((app) =>
  app.sqlite.prepare<[string], Listed>(
    'SELECT p.n, p.id, p.name, p.vouched, p.sales, p.refunds, p.since, p.state FROM prospect_sites s JOIN prospects p ON p.n = s.prospect WHERE s.host = ? GROUP BY p.n LIMIT 2',
  ),
);

/** The prospect whom an e-mail address belongs to: its host is one of the partner's sites. Who reads mail there owns the site. */
export function prospectByMail(app: App, email: string) {
  const host = email.trim().toLowerCase().split('@')[1] ?? '';
  if (!host) return null;
  const found = listedUnder(app).all(host);
  // a host that several are listed under is a shared one: mail at it proves nothing
  return found.length === 1 ? found[0]! : null;
}

/** Marks a prospect as one who has joined. */
export function prospectJoined(app: App, n: number, affiliate: Id<'affiliate'>): void {
  statements(app).join.run(affiliate, n);
}

/** The affiliate that has joined under one of some hosts, by its e-mail address. */
export function memberAtHost(app: App, host: string): { id: string } | null {
  return statements(app).joinedBy.get(host) ?? null;
}

/** The partner of the registry that an affiliate is, or null. */
export function prospectOf(app: App, affiliate: Id<'affiliate'>): string | null {
  return (
    app.db.select({ id: prospects.id }).from(prospects).where(eq(prospects.affiliate, affiliate)).get()?.id ??
    null
  );
}
