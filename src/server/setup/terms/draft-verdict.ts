import { eq } from 'drizzle-orm';
import { formatDay } from '../../../core/calendar/format';
import { isEmpty, isOver } from '../../../core/calendar/span';
import { type Column } from '../../../core/terms/cell';
import { tieWith } from '../../../core/terms/conflict';
import { type Cut } from '../../../core/terms/cuts';
import { applyDraft, replaces, type Change, type TermsData } from '../../../core/terms/draft';
import type { SetKind } from '../../../core/terms/lists';
import { termsAt } from '../../../core/terms/members';
import { covers, describeRate, isSpecial, type Rate } from '../../../core/terms/rate';
import { isId, type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { rates, type DraftChange } from '../../ground/tables/terms';
import { namesOf } from '../../registers/access/names';
import { productById, productsInUse } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { cutsOf } from './cuts';
import { expected } from './draft-store';
import { setById } from './sets';
import { theTerms, type Terms } from './store';
import { termsWords } from './words';
import { referralsPromised, worstInWords, worstOn } from './worst';

export function columnOf(rate: Pick<Rate, 'rung' | 'who'>, terms: Terms, at: number): Column {
  const { rung, who } = rate;
  if (!isSpecial(rung) || who === null) return { of: 'everyone' };
  return isId(who, 'affiliate')
    ? { of: 'affiliate', id: who, terms: termsAt(terms.roll, who, at) }
    : { of: rung as SetKind, id: who };
}

/** Where the draft as a whole would earn somebody less, and which of its changes does. */
export function cutsOfDraft(
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
function overtakenInWords(app: App, mine: Rate, was: Id<'rate'> | null, now: Id<'rate'> | null): string {
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

type Fault = Verdict['faults'][number];
const where = (found: boolean | undefined, fault: () => Fault): Fault[] => (found ? [fault()] : []);

/** What a rate is for that is gone meanwhile. */
function goneMeanwhile(app: App, { what, who }: Rate): Fault[] {
  const product = what.type === 'product' ? productById(app, what.product) : null;
  const isGone = who !== null && isId(who, 'set') && setById(app, who).removedAt !== null;
  return [
    ...where(product?.state === 'retired', () => ({
      what: `${product!.name} was retired meanwhile: take this change out, or bring the product back`,
      example: 'another product',
    })),
    ...where(isGone, () => ({
      what: `${termsWords(app, [who!]).who(who!)} was removed meanwhile: take this change out`,
      example: 'another group',
    })),
  ];
}

/** A rate that it would tie with, of those in force and those drafted beside it. */
function tieFaults(app: App, rate: Rate, others: Change[]): Fault[] {
  const tie = tieWith(rate, [
    ...theTerms(app).data.rates.filter((r) => !replaces(rate, r)),
    ...others.flatMap((c) => (c.op === 'add' ? [c.rate] : [])),
  ]);
  return where(tie !== undefined && tie !== null, () => ({
    what: `It would tie with “${tie!.label || termsWords(app, rate.who ? [rate.who] : []).place(tie!)}”, ${describeRate(tie!, theProgramme(app).base)}: both cover the same for the same people at the same time`,
    example: 'another start',
  }));
}

function faultsOfAdding(
  app: App,
  rate: Rate,
  { expects, others, after }: { expects: Id<'rate'> | null; others: Change[]; after: TermsData },
): Fault[] {
  const now = expected(app, rate);
  return [
    ...goneMeanwhile(app, rate),
    ...where(isEmpty(rate), () => ({
      what: 'The end is not after the start',
      example: 'a later start of the draft',
    })),
    ...(now !== expects
      ? [{ what: overtakenInWords(app, rate, expects, now), example: 'the same value once more' }]
      : tieFaults(app, rate, others)),
    ...worstFaults(app, rate, after),
  ];
}

function faultsOfEnding(app: App, { id, at }: Extract<Change, { op: 'end' }>): Fault[] {
  const rate = theTerms(app).data.rates.find((r) => r.id === id);
  if (!rate || isOver(rate, app.clock.now()))
    return [{ what: 'This rate has ended meanwhile: take the change out', example: 'another rate' }];
  return where(isOver(rate, at), () => ({
    what: `This rate ends before that, on ${formatDay(rate.until!, theProgramme(app).zone)}: take the change out, or begin the draft earlier`,
    example: 'an earlier start',
  }));
}

/** What stands against a change of a draft, beside the others of it. */
export function verdictOf(
  app: App,
  entry: DraftChange,
  { change, others, after }: { change: Change; others: Change[]; after: TermsData },
): Verdict {
  if (change.op === 'add') {
    const { expects } = entry;
    return { faults: faultsOfAdding(app, change.rate, { expects, others, after }) };
  }
  return { faults: change.op === 'end' ? faultsOfEnding(app, change) : [] };
}

/** A rate with which commission and referral share could exceed the value, naming the worst case. */
function worstFaults(app: App, rate: Rate, after: TermsData): Verdict['faults'] {
  const promised = referralsPromised(app);
  for (const p of productsInUse(app).filter((product) =>
    covers(rate.what, { product: product.id, kind: product.kind }),
  )) {
    const found = worstOn(app, p, { rates: after.rates, event: rate.event, promised });
    if (found)
      return [{ what: worstInWords(app, p, found), example: 'a lower rate, or a lower referral share' }];
  }
  return [];
}
