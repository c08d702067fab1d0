import { and, desc, eq } from 'drizzle-orm';
import type { DraftOut, SetChange, SwitchChange } from '../../../contract/setup/rate-book';
import { formatDay } from '../../../core/calendar/format';
import { cellOf, type Column } from '../../../core/terms/cell';
import { sameSlot, tieWith } from '../../../core/terms/conflict';
import type { Cut } from '../../../core/terms/cuts';
import { applyDraft, beginOf, replaces, type Change, type TermsData } from '../../../core/terms/draft';
import { termsAt } from '../../../core/terms/members';
import { covers, describeRate, endAt, inForce, isSpecial, type Rate } from '../../../core/terms/rate';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { drafts, locks, rates, rehearsals, type DraftChange } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { productById, productsInUse } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { readWall } from '../../registers/programme/wall';
import { cutInWords, cutsOf, earliestCut } from './cuts';
import { readRate } from './reading';
import { showRehearsal } from './rehearsal-view';
import { addRate } from './service';
import { setById, switchPause } from './sets';
import { indexed, theTerms, type Terms } from './store';
import { termsWords } from './words';
import { referralsPromised, worstInWords, worstOn } from './worst';

export type DraftRecord = typeof drafts.$inferSelect;

/** The open draft of a person, or null. */
export function openDraft(app: App, actor: Actor): DraftRecord | null {
  return (
    app.db
      .select()
      .from(drafts)
      .where(and(eq(drafts.by, actor.id), eq(drafts.state, 'open')))
      .orderBy(desc(drafts.createdAt))
      .get() ?? null
  );
}

/** When a draft begins, if it were saved now. */
export function beginOfDraft(app: App, draft: DraftRecord): number {
  return draft.from ?? app.clock.now();
}

/** The changes of a draft with their moments: what has no start of its own begins with the draft. */
export function datedChanges(app: App, draft: DraftRecord): Change[] {
  const begin = beginOfDraft(app, draft);
  return draft.changes.map(({ change, own }): Change => {
    if (own) return change;
    return change.op === 'add'
      ? { op: 'add', rate: { ...change.rate, from: begin } }
      : { ...change, at: begin };
  });
}

function write(
  app: App,
  actor: Actor,
  draft: DraftRecord | null,
  changes: DraftChange[],
): DraftRecord | null {
  if (!draft) {
    if (!changes.length) return null;
    app.db
      .insert(drafts)
      .values({ id: newId('draft'), by: actor.id, from: null, changes, createdAt: app.clock.now() })
      .run();
  } else
    app.db
      .update(drafts)
      .set(
        changes.length
          ? { changes, version: draft.version + 1 }
          : { changes, state: 'discarded', version: draft.version + 1 },
      )
      .where(eq(drafts.id, draft.id))
      .run();
  return openDraft(app, actor);
}

function samePlace(a: Change, b: Change): boolean {
  if (a.op === 'add' && b.op === 'add')
    return (
      a.rate.mode === b.rate.mode &&
      sameSlot(a.rate, b.rate) &&
      a.rate.from === b.rate.from &&
      JSON.stringify(a.rate.payments) === JSON.stringify(b.rate.payments)
    );
  if (a.op === 'end' && b.op === 'end') return a.id === b.id;
  if (a.op === 'lock' && b.op === 'lock') return a.product === b.product && a.event === b.event;
  return a.op === 'pause' && b.op === 'pause' && a.group === b.group;
}

/** The rate that a draft's rate would take over from. */
function expected(app: App, rate: Rate): string | null {
  return (
    theTerms(app)
      .data.rates.filter(
        (r) => r.id !== rate.id && sameSlot(r, rate) && inForce(r, Math.max(rate.from, app.clock.now())),
      )
      .sort((a, b) => b.from - a.from)[0]?.id ?? null
  );
}

function put(app: App, actor: Actor, change: Change, own: boolean): DraftOut {
  const draft = openDraft(app, actor);
  const before = draft?.changes ?? [];
  const replaced = before.findIndex(
    (c) => c.own === own && samePlace(own ? c.change : undated(c.change), own ? change : undated(change)),
  );
  const entry: DraftChange = {
    id: replaced < 0 ? newId('change') : before[replaced]!.id,
    change,
    own,
    expects: change.op === 'add' ? expected(app, change.rate) : null,
  };
  return show(
    app,
    write(
      app,
      actor,
      draft,
      replaced < 0 ? [...before, entry] : before.map((c, i) => (i === replaced ? entry : c)),
    )!,
  );
}

function undated(change: Change): Change {
  return change.op === 'add' ? { op: 'add', rate: { ...change.rate, from: 0 } } : { ...change, at: 0 };
}

/** Puts a rate or an uplift into the open draft, which is begun if there is none. */
export function draftRate(app: App, actor: Actor, input: SetChange): DraftOut {
  const begin = openDraft(app, actor)?.from ?? app.clock.now();
  const rate = readRate(app, input, begin);
  return put(app, actor, { op: 'add', rate }, Boolean(input.from));
}

export function draftSwitch(app: App, actor: Actor, input: SwitchChange): DraftOut {
  const at = app.clock.now();
  const { op, id, event = 'sale', on = true } = input;
  if (op === 'end') {
    if (!theTerms(app).data.rates.some((r) => r.id === id))
      throw new Problem('not-found', 'This rate does not exist any more');
    return put(app, actor, { op, id, at }, false);
  }
  if (op === 'lock') {
    if (!productById(app, id)) throw new Problem('not-found', 'This product does not exist');
    return put(app, actor, { op, product: id, event, on, at }, false);
  }
  if (setById(app, id).of !== 'group') throw new Problem('conflict', 'Only groups can be paused');
  return put(app, actor, { op, group: id, on, at }, false);
}

export function dropChange(app: App, actor: Actor, id: string): DraftOut | null {
  const draft = openDraft(app, actor);
  if (!draft) return null;
  const left = write(
    app,
    actor,
    draft,
    draft.changes.filter((c) => c.id !== id),
  );
  return left ? show(app, left) : null;
}

function current(app: App, actor: Actor, version: number): DraftRecord {
  const draft = openDraft(app, actor);
  if (!draft) throw new Problem('not-found', 'You have no open draft');
  if (draft.version !== version)
    throw new Problem('stale', 'The draft was changed in another window; look again and repeat', {
      current: show(app, draft),
    });
  return draft;
}

export function dateDraft(app: App, actor: Actor, from: string | null, version: number): DraftOut {
  const draft = current(app, actor, version);
  app.db
    .update(drafts)
    .set({ from: from === null ? null : readWall(app, from, 'from', 'Start'), version: draft.version + 1 })
    .where(eq(drafts.id, draft.id))
    .run();
  return show(app, openDraft(app, actor)!);
}

export function discardDraft(app: App, actor: Actor, version: number): null {
  const draft = current(app, actor, version);
  app.db
    .update(drafts)
    .set({ state: 'discarded', version: draft.version + 1 })
    .where(eq(drafts.id, draft.id))
    .run();
  return null;
}

function columnOf(rate: Pick<Rate, 'rung' | 'who'>, terms: Terms, at: number): Column {
  if (!isSpecial(rate.rung) || rate.who === null) return { of: 'everyone' };
  return rate.rung === 'personal'
    ? { of: 'affiliate', id: rate.who, terms: termsAt(terms.roll, rate.who, at) }
    : { of: rate.rung as 'card' | 'group' | 'tag', id: rate.who };
}

/** Where the draft as a whole would earn somebody less, and which of its changes does. */
function cutsOfDraft(
  app: App,
  entries: DraftChange[],
  { dated, before, after }: { dated: Change[]; before: Terms; after: TermsData },
): { cuts: Cut[]; by: Map<string, Cut> } {
  const cuts = cutsOf(app, after);
  const by = new Map<string, Cut>();
  if (!cuts.length) return { cuts, by };
  entries.forEach((entry, i) => {
    const [own] = entries.length === 1 ? cuts : cutsOf(app, applyDraft(before.data, [dated[i]!]));
    if (own) by.set(entry.id, own);
  });
  // together they do what none does alone
  if (!by.size) for (const entry of entries) by.set(entry.id, cuts[0]!);
  return { cuts, by };
}

/** A rate that somebody else set, or ended, since one for the same place was drafted: who, and what it was, is and would be. */
function overtakenInWords(app: App, mine: Rate, was: string | null, now: string | null): string {
  const { base } = theProgramme(app);
  const said = (id: string | null) => {
    const rate = theTerms(app).data.rates.find((r) => r.id === id);
    return rate ? describeRate(rate, base) : 'not set';
  };
  const ended =
    was === null
      ? undefined
      : app.db.select({ by: rates.endedBy }).from(rates).where(eq(rates.id, was)).get()?.by;
  const by =
    now === null
      ? ended
      : app.db.select({ by: rates.createdBy }).from(rates).where(eq(rates.id, now)).get()?.by;
  const who = by ? namesOf(app, [by])(by) : 'Somebody else';
  return `${who} changed this rate meanwhile: it was ${said(was)}, it is ${said(now)}, yours would be ${describeRate(mine, base)}. Set yours again to replace theirs, or take it out to keep theirs`;
}

interface Verdict {
  faults: { what: string; example: string }[];
}

function verdictOf(
  app: App,
  entry: DraftChange,
  { change, others, after }: { change: Change; others: Change[]; after: TermsData },
): Verdict {
  const faults: Verdict['faults'] = [];
  if (change.op === 'add') {
    const { rate } = change;
    const words = termsWords(app, rate.who ? [rate.who] : []);
    const product = rate.what.type === 'product' ? productById(app, rate.what.product) : null;
    if (product?.state === 'retired')
      faults.push({
        what: `${product.name} was retired meanwhile: take this change out, or bring the product back`,
        example: 'another product',
      });
    if (rate.who && rate.rung !== 'personal' && setById(app, rate.who).removedAt !== null)
      faults.push({
        what: `${words.who(rate.who)} was removed meanwhile: take this change out`,
        example: 'another group',
      });
    if (rate.until !== null && rate.until <= rate.from)
      faults.push({ what: 'The end is not after the start', example: 'a later start of the draft' });
    const now = expected(app, rate);
    if (now !== entry.expects) {
      faults.push({
        what: overtakenInWords(app, rate, entry.expects, now),
        example: 'the same value once more',
      });
    } else {
      const tie = tieWith(rate, [
        ...theTerms(app).data.rates.filter((r) => !replaces(rate, r)),
        ...others.flatMap((c) => (c.op === 'add' ? [c.rate] : [])),
      ]);
      if (tie)
        faults.push({
          what: `It would tie with “${tie.label || words.place(tie)}”, ${describeRate(tie, theProgramme(app).base)}: both cover the same for the same people at the same time`,
          example: 'another start',
        });
    }
    faults.push(...worstFaults(app, rate, after));
  } else if (change.op === 'end') {
    const rate = theTerms(app).data.rates.find((r) => r.id === change.id);
    if (!rate || (rate.until !== null && rate.until <= app.clock.now()))
      faults.push({ what: 'This rate has ended meanwhile: take the change out', example: 'another rate' });
    else if (rate.until !== null && rate.until <= change.at)
      faults.push({
        what: `This rate ends before that, on ${formatDay(rate.until, theProgramme(app).zone)}: take the change out, or begin the draft earlier`,
        example: 'an earlier start',
      });
  }
  return { faults };
}

/** A rate with which commission and referral share could exceed the value, naming the worst case. */
function worstFaults(app: App, rate: Rate, after: TermsData): Verdict['faults'] {
  const promised = referralsPromised(app);
  for (const p of productsInUse(app).filter((of) => covers(rate.what, { product: of.id, kind: of.kind }))) {
    const found = worstOn(app, p, { rates: after.rates, event: rate.event, promised });
    if (found)
      return [{ what: worstInWords(app, p, found), example: 'a lower rate, or a lower referral share' }];
  }
  return [];
}

/** How many affiliates a change reaches. */
function affectedBy(app: App, dated: Change[]): number {
  const { data } = theTerms(app);
  const at = app.clock.now();
  const people = new Set<string>();
  const active = () =>
    app.sqlite
      .prepare(
        "SELECT count(*) FROM affiliates WHERE joined_at IS NOT NULL AND promotes AND state IN ('active', 'paused')",
      )
      .pluck()
      .get() as number;
  for (const c of dated) {
    const rate = c.op === 'add' ? c.rate : c.op === 'end' ? data.rates.find((r) => r.id === c.id) : undefined;
    if (
      c.op === 'lock' ||
      (rate && !isSpecial(rate.rung)) ||
      (rate?.rung === 'card' && rate.who === data.defaultCard)
    )
      return active();
    const set = c.op === 'pause' ? c.group : rate?.who;
    if (rate?.rung === 'personal') people.add(rate.who!);
    else if (set) for (const m of data.members) if (m.id === set && inForce(m, at)) people.add(m.affiliate);
  }
  return people.size;
}

/** A draft with what it changes, what stands against it and what notice it asks for. */
export function show(app: App, draft: DraftRecord): DraftOut {
  const { base, noticeWeeks } = theProgramme(app);
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
    noticeWeeks,
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

/** Makes a draft count. @throws Problem `invalid` where something stands against it, naming each */
export function saveDraft(
  app: App,
  actor: Actor,
  version: number,
): { saved: number; from: number; last: number; replaced: number } {
  const draft = current(app, actor, version);
  const view = show(app, draft);
  const faults = view.changes.flatMap((c) =>
    c.faults.map((f) => ({
      pointer: `/changes/${c.id}`,
      detail: `${c.place}: ${f.what}`,
      example: f.example,
    })),
  );
  if (!faults.length && !view.ready) {
    faults.push({
      pointer: '/from',
      detail: `${view.cuts === 1 ? 'A change cuts' : `${view.cuts} changes cut`} what somebody earns, and the programme promises ${view.noticeWeeks} ${view.noticeWeeks === 1 ? 'week' : 'weeks'} of notice: it cannot begin before then`,
      example: new Date(view.earliest!).toISOString().slice(0, 16),
    });
  }
  if (faults.length) throw new Problem('invalid', faults[0]!.detail, { errors: faults });
  const dated = datedChanges(app, draft);
  let replaced = 0;
  for (const change of dated) replaced += carryOut(app, actor, draft.id, change);
  app.db
    .update(drafts)
    .set({ state: 'saved', savedAt: app.clock.now(), version: draft.version + 1 })
    .where(eq(drafts.id, draft.id))
    .run();
  touch(app, 'terms');
  const begins = dated.map(beginOf);
  return { saved: dated.length, from: Math.min(...begins), last: Math.max(...begins), replaced };
}

function carryOut(app: App, actor: Actor, draft: string, change: Change): number {
  const now = app.clock.now();
  switch (change.op) {
    case 'add': {
      const gone = theTerms(app).data.rates.filter((r) => replaces(change.rate, r));
      for (const r of gone)
        app.db
          .update(rates)
          .set({ until: change.rate.from, endedAt: now, endedBy: draft, endedFor: change.rate.id })
          .where(eq(rates.id, r.id))
          .run();
      if (gone.length) touch(app, 'terms');
      addRate(app, actor, change.rate, draft);
      const { reward, payments, cap, from, until } = change.rate;
      record(app, actor, 'rate-changed', {
        subject:
          change.rate.what.type === 'product' ? change.rate.what.product : (change.rate.who ?? 'programme'),
        before: { reward: gone[0]?.reward ?? null },
        after: { reward, payments, cap, from, until, who: change.rate.who },
      });
      return gone.length;
    }
    case 'end': {
      const rate = theTerms(app).data.rates.find((r) => r.id === change.id)!;
      app.db
        .update(rates)
        .set({ until: endAt(rate, change.at), endedAt: now, endedBy: actor.id, endedFor: null })
        .where(eq(rates.id, change.id))
        .run();
      record(app, actor, 'rate-ended', {
        subject: rate.what.type === 'product' ? rate.what.product : (rate.who ?? 'programme'),
        before: { reward: rate.reward, who: rate.who },
        after: { until: change.at },
      });
      touch(app, 'terms');
      return 1;
    }
    case 'lock':
      switchLock(app, actor, change.product, { event: change.event, on: change.on, at: change.at });
      record(app, actor, change.on ? 'product-locked' : 'product-unlocked', {
        subject: change.product,
        before: null,
        after: {
          event: change.event,
          from: change.at,
        },
      });
      return 0;
    case 'pause':
      switchPause(app, actor, change.group, { on: change.on, at: change.at });
      record(app, actor, change.on ? 'group-paused' : 'group-resumed', {
        subject: change.group,
        before: null,
        after: {
          from: change.at,
        },
      });
      return 0;
  }
}

function switchLock(
  app: App,
  actor: Actor,
  product: string,
  { event, on, at }: { event: 'sale' | 'renewal'; on: boolean; at: number },
): void {
  const open = app.db
    .select()
    .from(locks)
    .where(and(eq(locks.product, product), eq(locks.event, event)))
    .all()
    .filter((l) => l.until === null || l.until > at);
  if (on && !open.some((l) => l.from <= at))
    app.db
      .insert(locks)
      .values({ id: newId('lock'), product, event, from: at, until: null, by: actor.id })
      .run();
  if (!on)
    for (const l of open)
      app.db
        .update(locks)
        .set({ until: Math.max(at, l.from) })
        .where(eq(locks.id, l.id))
        .run();
  touch(app, 'terms');
}
