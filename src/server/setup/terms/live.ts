import { formatMoney } from '../../../core/money/amount';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import { inTagOrder, isPaused } from '../../../core/terms/members';
import { anybody, type AffiliateTerms } from '../../../core/terms/rate';
import { counted } from '../../../core/text/counted';
import type { Id } from '../../../core/text/id';
import { keyOfPlaceholder, placeholdersIn, readOut } from '../../../core/text/live';
import { type App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import { productsInUse, type ProductRecord } from '../../registers/catalogue/store';
import { approvedNow } from '../../registers/people/approved';
import { noticeNow } from '../../registers/programme/notice';
import { theProgramme } from '../../registers/programme/record';
import { promisedNow } from './promised';
import { publicTerms } from './public';
import { notForYou, termsOf } from './service';
import { theTerms } from './store';

/** Who reads a text: an affiliate, somebody who would have a card, a group and tags on joining, or everybody. */
export type Reader =
  | { affiliate: Id<'affiliate'> }
  | {
      card?: Id<'set'> | null | undefined;
      group?: Id<'set'> | null | undefined;
      tags?: readonly Id<'set'>[] | undefined;
    }
  | null;

function termsOfReader(app: App, reader: Reader): AffiliateTerms {
  const at = app.clock.now();
  if (reader === null) return termsOf(app, anybody, at);
  if ('affiliate' in reader) return termsOf(app, reader.affiliate, at);
  const { roll } = theTerms(app);
  const { group } = reader;
  return {
    affiliate: anybody,
    card: reader.card ?? roll.defaultCard,
    group: group ? { id: group, paused: isPaused(roll, group, at) } : null,
    tags: inTagOrder(roll, reader.tags ?? [], at),
  };
}

/** What the resolver would pay this reader on a product, in words, or that it is not for it now. */
function rateFor(app: App, product: ProductRecord, reader: Reader): string {
  if (!isOpenToAffiliates(detailsOf(product), app.clock.now())) return notForYou;
  if (reader !== null && 'affiliate' in reader && !approvedNow(app, reader.affiliate, product.id))
    return notForYou;
  return promisedNow(app, termsOfReader(app, reader), product);
}

/** What anything at all pays this reader, in words. */
const rateOfEverything = (app: App, reader: Reader): string =>
  promisedNow(app, termsOfReader(app, reader), null);

/** What the settings promise everybody, in words. */
function promises(app: App): Record<string, string> {
  const { windowDays, bufferDays, promiseDays, minimumPayout, base } = theProgramme(app);
  return {
    window: counted(windowDays, 'day'),
    notice: counted(noticeNow(app), 'week'),
    clearing: bufferDays
      ? `${counted(bufferDays, 'day')} after the refund window`
      : 'at the end of the refund window',
    payment: `within ${counted(promiseDays, 'day')} of the payout`,
    minimum: minimumPayout ? formatMoney({ amount: minimumPayout, currency: base }) : 'any amount',
  };
}

/**
 * Everything that a text may ask for in braces, and what it is now for one reader.
 * @param texts only what they ask for is looked up; left out = everything there is
 */
export function liveValues(
  app: App,
  reader: Reader = null,
  texts?: readonly string[],
): Record<string, string> {
  const asked = texts ? new Set(texts.flatMap((t) => placeholdersIn(t).map(keyOfPlaceholder))) : null;
  const wants = (key: string) => asked === null || asked.has(key);
  const values = promises(app);
  if (wants('rate')) values.rate = rateOfEverything(app, reader);
  for (const p of productsInUse(app)) {
    if (wants(`rate ${p.code}`)) values[`rate ${p.code}`] = rateFor(app, p, reader);
    if (wants(`price ${p.code}`)) values[`price ${p.code}`] = publicTerms(app, p).price || 'no price yet';
  }
  return values;
}

/** A text as one reader reads it now; what nothing is known of any more reads as such. */
export function filled(app: App, text: string, reader: Reader = null): string {
  if (!text.includes('{')) return text;
  return readOut(text, liveValues(app, reader, [text]));
}
