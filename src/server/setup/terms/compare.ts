import { inArray } from 'drizzle-orm';
import { cellOf } from '../../../core/terms/cell';
import type { TermsData } from '../../../core/terms/draft';
import { termsAt } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';
import { productsInUse } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { firstEvent } from './service';
import { indexed, theTerms, type Terms } from './store';

function effectiveOn(
  app: App,
  { terms, affiliate, at, base }: { terms: Terms; affiliate: Id<'affiliate'>; at: number; base: string },
): Map<string, string> {
  const column = { of: 'affiliate' as const, id: affiliate, terms: termsAt(terms.roll, affiliate, at) };
  return new Map(
    productsInUse(app).flatMap((p): [string, string][] => {
      const row = {
        what: { type: 'product' as const, product: p.id },
        sold: { product: p.id, kind: p.kind },
      };
      const first = cellOf(terms.book, terms.roll, {
        column,
        row,
        event: firstEvent(p.kind),
        payment: 1,
        at,
        currency: base,
      }).full;
      const later =
        p.kind === 'recurring'
          ? [
              [
                `${p.name}, renewals`,
                cellOf(terms.book, terms.roll, {
                  column,
                  row,
                  event: 'renewal',
                  payment: 2,
                  at,
                  currency: base,
                }).full,
              ] as [string, string],
            ]
          : [];
      return [[p.name, first], ...later];
    }),
  );
}

/** What affiliates earn on each product before and after a change of terms, only where it differs. Moved from now on. */
export function changesFor(app: App, ids: readonly Id<'affiliate'>[], after: TermsData) {
  if (!ids.length) return [];
  const { base } = theProgramme(app);
  const at = app.clock.now();
  const now = theTerms(app);
  const then = indexed(after);
  const rows = app.db
    .select({ id: affiliates.id, name: affiliates.name, handle: affiliates.handle })
    .from(affiliates)
    .where(inArray(affiliates.id, [...new Set(ids)]))
    .all();
  return rows.map(({ id, name, handle }) => {
    const before = effectiveOn(app, { terms: now, affiliate: id, at, base });
    const later = effectiveOn(app, { terms: then, affiliate: id, at, base });
    return {
      affiliate: id,
      name,
      handle,
      changes: [...later]
        .filter(([product, text]) => before.get(product) !== text)
        .map(([product, text]) => ({ product, before: before.get(product) ?? '—', after: text })),
    };
  });
}
