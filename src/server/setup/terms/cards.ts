import { and, eq, gt, isNull, or } from 'drizzle-orm';
import { addDays, dayOf, startOfDay } from '../../../core/calendar/zone';
import { termsAt } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { asAffiliate, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { refuse } from '../../ground/http/problem';
import { memberships } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { setsInUse, theTerms, type SetRecord } from './store';

/** Cards that affiliates may choose: when they join, or later. */
export function openCards(app: App, when: 'join' | 'change'): SetRecord[] {
  return setsInUse(app).filter((s) => s.of === 'card' && (when === 'join' ? s.openJoin : s.openChange));
}

/** What an affiliate reads of where it is sorted: its card and its group, never its tags, and the cards it may change to. */
export function ownPlaces(app: App, affiliate: Id<'affiliate'>) {
  const now = app.clock.now();
  const { zone } = theProgramme(app);
  const { card, group } = termsAt(theTerms(app).roll, affiliate, now);
  const tomorrow = startOfDay(addDays(dayOf(now, zone), 1), zone);
  const coming = termsAt(theTerms(app).roll, affiliate, tomorrow).card;
  const named = (id: string | null) => {
    const s = setsInUse(app).find((r) => r.id === id);
    return s ? { id: s.id, name: s.name, about: s.about } : null;
  };
  return {
    card: named(card),
    group: group && !group.paused ? named(group.id) : null,
    coming: coming === card ? null : named(coming),
    from: tomorrow,
    choices: openCards(app, 'change')
      .filter((c) => c.id !== (coming ?? card))
      .map(({ id, name, about }) => ({ id, name, about })),
  };
}

/** An affiliate chooses another card, from the next day on. */
export function chooseCard(app: App, actor: Actor, id: Id<'set'>) {
  const affiliate = asAffiliate(actor);
  const set = openCards(app, 'change').find((c) => c.id === id);
  if (!set) throw refuse('card', 'Rate card: this one is not open for choice any more');
  const { card, from } = ownPlaces(app, affiliate);
  const open = app.db
    .select()
    .from(memberships)
    .where(
      and(
        eq(memberships.affiliate, affiliate),
        eq(memberships.of, 'card'),
        or(isNull(memberships.until), gt(memberships.until, from)),
      ),
    )
    .all();
  for (const m of open)
    app.db
      .update(memberships)
      .set({ until: Math.max(from, m.from) })
      .where(eq(memberships.id, m.id))
      .run();
  app.db
    .insert(memberships)
    .values({
      id: newId('membership'),
      affiliate,
      of: 'card',
      set: id,
      from,
      until: null,
      by: actor.id,
    })
    .run();
  record(app, actor, 'card-chosen', {
    subject: affiliate,
    before: { card: card?.name ?? null },
    after: { card: set.name, from },
  });
  touch(app, 'terms');
  return ownPlaces(app, affiliate);
}
