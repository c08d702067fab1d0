import { and, eq, inArray, ne } from 'drizzle-orm';
import { termsAt } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { theClock, type App } from '../../ground/context';
import { invites, prospects, prospectTags } from '../../ground/tables/prospects';
import { putInto, putIntoAll } from '../../setup/terms/members';
import { setsInUse, theTerms } from '../../setup/terms/store';
import { prospectByMail, prospectJoined } from './copy';

/**
 * Puts somebody into cards, groups and tags that it is not in yet; those that are gone are passed over.
 * @param promised true for somebody who was there before: where it would earn less, the notice is kept
 */
export function placeInto(
  app: App,
  affiliate: Id<'affiliate'>,
  ids: Iterable<Id<'set'> | null>,
  promised = false,
): void {
  const sets = new Map(setsInUse(app).map((s) => [s.id, s]));
  const { card, group, tags } = termsAt(theTerms(app).roll, affiliate, app.clock.now());
  const already = new Set([card, group?.id ?? null, ...tags]);
  const chosen = [...new Set(ids)].flatMap((id) => {
    const set = id === null || already.has(id) ? undefined : sets.get(id);
    return set ? [set] : [];
  });
  if (!chosen.length) return;
  if (promised) putIntoAll(app, theClock, affiliate, chosen);
  else for (const set of chosen) putInto(app, theClock, affiliate, { set });
  touch(app, 'terms');
}

/** What was set aside for a prospect goes along when it joins, by whichever way: its tags, and what an open invitation promised. */
export function takeAlong(app: App, affiliate: { id: Id<'affiliate'>; email: string }): void {
  const p = prospectByMail(app, affiliate.email);
  if (!p || p.state === 'joined') return;
  prospectJoined(app, p.n, affiliate.id);
  const tags = app.db
    .select({ tag: prospectTags.tag })
    .from(prospectTags)
    .where(eq(prospectTags.prospect, p.n))
    .all()
    .map((t) => t.tag);
  const open = app.db
    .select()
    .from(invites)
    .where(and(eq(invites.prospect, p.id), inArray(invites.state, ['waiting', 'sent', 'opened'])))
    .all();
  placeInto(app, affiliate.id, [...tags, ...open.flatMap((i) => [i.card, i.group, ...i.tags])]);
  for (const i of open)
    app.db
      .update(invites)
      .set({ state: 'accepted', stateAt: app.clock.now(), affiliate: affiliate.id })
      .where(eq(invites.id, i.id))
      .run();
}

/** Takes back that a prospect has joined: its approval was undone. */
export function prospectLeft(app: App, affiliate: Id<'affiliate'>): void {
  const p = app.db
    .select({ n: prospects.n, id: prospects.id })
    .from(prospects)
    .where(eq(prospects.affiliate, affiliate))
    .get();
  if (!p) return;
  const invited = app.db
    .select({ id: invites.id })
    .from(invites)
    .where(and(eq(invites.prospect, p.id), ne(invites.state, 'withdrawn')))
    .limit(1)
    .get();
  app.db
    .update(prospects)
    .set({ state: invited ? 'invited' : 'never', affiliate: null })
    .where(eq(prospects.n, p.n))
    .run();
}
