import { kindsIn } from '../../../core/recruiting/kinds';
import type { PolicyReader } from '../../../core/recruiting/policy-reading';
import type { Promoter } from '../../../core/recruiting/practices';
import { termsAt } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import type { affiliates } from '../../ground/tables/people';
import { affiliateById } from '../../registers/people/record';
import { setsInUse, theTerms } from '../terms/store';

/** Groups that practices can be answered for apart. */
export const groupsInUse = (app: App): { id: Id<'set'>; name: string }[] =>
  setsInUse(app)
    .filter((s) => s.of === 'group')
    .map(({ id, name }) => ({ id, name }));

/** The staff, who read for whom a practice is answered otherwise. */
export function staffReader(app: App): PolicyReader {
  const names = new Map<string, string>(setsInUse(app).map((s) => [s.id, s.name]));
  return { of: 'staff', groupName: (id) => names.get(id) ?? 'a group that is gone' };
}

/** What kind of partner an affiliate is and in which group; of which kind, where nobody has sorted it, by how it says to promote. */
export const promoterOf = (
  app: App,
  f: Pick<typeof affiliates.$inferSelect, 'id' | 'kind' | 'audience'>,
): Promoter => ({
  kinds: f.kind ? [f.kind] : kindsIn(f.audience),
  group: termsAt(theTerms(app).roll, f.id, app.clock.now()).group?.id ?? null,
});

/** One affiliate, who reads what is answered for itself. */
export const affiliateReader = (app: App, id: Id<'affiliate'>): PolicyReader => ({
  of: 'affiliate',
  promoter: promoterOf(app, affiliateById(app, id)),
});
