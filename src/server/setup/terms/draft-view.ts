import { desc, eq } from 'drizzle-orm';
import { type DraftOut } from '../../../contract/setup/rate-book';
import { inForce } from '../../../core/calendar/span';
import { cellOf } from '../../../core/terms/cell';
import { applyDraft, beginOf, type Change, type TermsData } from '../../../core/terms/draft';
import { covers, describeRate, isSpecial, type Rate } from '../../../core/terms/rate';
import { type App } from '../../ground/context';
import { rehearsals } from '../../ground/tables/terms';
import { productById, productsInUse } from '../../registers/catalogue/store';
import { noticeNow } from '../../registers/programme/notice';
import { theProgramme } from '../../registers/programme/record';
import { cutInWords, earliestCut } from './cuts';
import { beginOfDraft, datedChanges, type DraftRecord } from './draft-store';
import { columnOf, cutsOfDraft, verdictOf } from './draft-verdict';
import { showRehearsal } from './rehearsal-view';
import { indexed, theTerms, type Terms } from './store';
import { termsWords } from './words';

const activeAffiliates = (app: App): number =>
  app.sqlite
    .prepare(
      "SELECT count(*) FROM affiliates WHERE joined_at IS NOT NULL AND promotes AND state IN ('active', 'paused')",
    )
    .pluck()
    .get() as number;

/** Whom a change reaches: everybody, one person, or those in a set. */
function reachOf(change: Change, data: TermsData): 'everybody' | { person: string } | { set: string } | null {
  if (change.op === 'lock') return 'everybody';
  if (change.op === 'pause') return { set: change.group };
  const rate = change.op === 'add' ? change.rate : data.rates.find((r) => r.id === change.id);
  if (!rate) return null;
  const { rung, who } = rate;
  if (!isSpecial(rung) || who === null || (rung === 'card' && who === data.defaultCard)) return 'everybody';
  return rung === 'personal' ? { person: who } : { set: who };
}

/** How many affiliates a change reaches. */
function affectedBy(app: App, dated: Change[]): number {
  const { data } = theTerms(app);
  const at = app.clock.now();
  const people = new Set<string>();
  for (const change of dated) {
    const reach = reachOf(change, data);
    if (reach === 'everybody') return activeAffiliates(app);
    if (reach === null) continue;
    if ('person' in reach) people.add(reach.person);
    else for (const m of data.members) if (m.id === reach.set && inForce(m, at)) people.add(m.affiliate);
  }
  return people.size;
}

/** A draft with what it changes, what stands against it and what notice it asks for. */
export function draftShown(app: App, draft: DraftRecord): DraftOut {
  const { base } = theProgramme(app);
  const now = app.clock.now();
  const dated = datedChanges(app, draft);
  const before = theTerms(app);
  const data = applyDraft(before.data, dated);
  const words = termsWords(
    app,
    dated.flatMap((c) =>
      c.op === 'add' && c.rate.who
        ? [c.rate.who]
        : c.op === 'end'
          ? before.data.rates.filter((r) => r.id === c.id && r.who).map((r) => r.who!)
          : [],
    ),
  );
  const { cuts, by } = cutsOfDraft(app, draft.changes, { dated, before, after: data });
  const changes = draft.changes.map((entry, i) => {
    const change = dated[i]!;
    const { place, was, is } = inWords(app, change, { before, words, base });
    const cut = by.get(entry.id);
    return {
      id: entry.id,
      place,
      before: was,
      after: is,
      from: entry.own && change.op === 'add' ? change.rate.from : null,
      until: change.op === 'add' ? change.rate.until : null,
      ...verdictOf(app, entry, { change, others: dated.filter((_, n) => n !== i), after: data }),
      ignoredBy:
        change.op === 'add' && (isSpecial(change.rate.rung) || change.rate.mode !== 'base')
          ? lockedOf(app, data, change.rate)
          : [],
      cut: cut ? cutInWords(app, cut) : null,
    };
  });
  const begin = beginOfDraft(app, draft);
  const earliest = cuts.length ? earliestCut(app) : null;
  const last = app.db
    .select()
    .from(rehearsals)
    .where(eq(rehearsals.draft, draft.id))
    .orderBy(desc(rehearsals.at), desc(rehearsals.id))
    .get();
  return {
    id: draft.id,
    version: draft.version,
    from: draft.from,
    changes,
    cuts: by.size,
    earliest,
    noticeWeeks: noticeNow(app),
    past: begin < now,
    affected: affectedBy(app, dated),
    ready:
      changes.every((c) => c.faults.length === 0) &&
      (earliest === null || cuts.every((c) => c.at >= earliest)),
    rehearsal: last ? showRehearsal(app, last) : null,
  };
}

/** Names of the products that a rate covers and whose lock skips it when it begins. */
function lockedOf(app: App, { locks: all }: TermsData, rate: Rate): string[] {
  const at = Math.max(rate.from, app.clock.now());
  const held = new Set(all.filter((l) => l.event === rate.event && inForce(l, at)).map((l) => l.product));
  return productsInUse(app)
    .filter((p) => held.has(p.id) && covers(rate.what, { product: p.id, kind: p.kind }))
    .map((p) => p.name)
    .sort();
}

function inWords(
  app: App,
  change: Change,
  { before, words, base }: { before: Terms; words: ReturnType<typeof termsWords>; base: string },
): { place: string; was: string; is: string } {
  const onOff = (on: boolean) => (on ? 'locked' : 'not locked');
  if (change.op === 'lock')
    return {
      place: `${words.product(change.product)}, ${change.event === 'sale' ? 'first payments' : 'renewals'}`,
      was: onOff(!change.on),
      is: onOff(change.on),
    };
  if (change.op === 'pause')
    return {
      place: words.who(change.group),
      was: change.on ? 'running' : 'paused',
      is: change.on ? 'paused' : 'running',
    };
  const rate = change.op === 'add' ? change.rate : before.data.rates.find((r) => r.id === change.id);
  if (!rate) return { place: 'a rate that is gone', was: '', is: '' };
  const at = beginOf(change);
  const sold = rate.what.type === 'product' ? productById(app, rate.what.product) : null;
  const row = { what: rate.what, sold: sold ? { product: sold.id, kind: sold.kind } : null };
  const text = (terms: Terms) =>
    cellOf(terms.book, terms.roll, {
      column: columnOf(rate, terms, at),
      row,
      event: rate.event,
      payment: rate.payments?.first ?? (rate.event === 'renewal' ? 2 : 1),
      at,
      currency: base,
    }).full;
  return {
    place: words.place(rate),
    was: text(before),
    is:
      change.op === 'add'
        ? describeRate(rate, base)
        : `${text(indexed(applyDraft(before.data, [change])))}, inherited`,
  };
}
