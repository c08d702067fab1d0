import type { Kept } from '../text/kept';
import { isFor, type Book, type EventBook, type Question, type Shelf } from './book';
import type { ConsideredOutcome } from './lists';
import {
  covers,
  fitOf,
  isSpecial,
  rungs,
  width,
  worthIn,
  type AffiliateTerms,
  type Fit,
  type Rate,
  type Rung,
  type Sold,
} from './rate';
import type { RateReason } from './reason';

/** One rate beside a line, and why it does or does not decide it. */
export interface Considered {
  rate: Rate;
  outcome: ConsideredOutcome;
  why: Kept<RateReason>;
}

/** One rung of a working. */
export interface RungWorking {
  rung: Rung;
  considered: Considered[];
  /** what was said of a rung with nothing on it, in workings kept while such words were stored */
  remark?: string | null;
}

// one object a rung for the many workings in which it has nothing
const nothingHere = Object.fromEntries(
  rungs.map((rung) => [
    rung,
    Object.freeze({
      rung,
      considered: Object.freeze([]) as readonly Considered[] as Considered[],
    }),
  ]),
) as Record<Rung, RungWorking>;

// one object a code without values, for the many workings it stands in
const begins = { code: 'begins-later' } as const;
const ended = { code: 'had-ended' } as const;
const locked = { code: 'product-locked' } as const;
const paused = { code: 'group-paused' } as const;
const decides = { code: 'decides' } as const;
const earlier = { code: 'earlier-start' } as const;
const lower = { code: 'lower-rung' } as const;
const wider = { code: 'wider' } as const;
const tagBefore = { code: 'tag-before' } as const;
const raises = { code: 'raises' } as const;
const better = { code: 'better-uplift' } as const;
const raisesNothing = { code: 'raises-nothing' } as const;

function whyNot(fit: Exclude<Fit, 'applies' | 'nothing-left'>, rate: Rate, asked: Question): RateReason {
  switch (fit) {
    case 'begins-later':
      return begins;
    case 'had-ended':
      return ended;
    case 'earlier-payment':
    case 'later-payment':
      return { code: 'other-payment', payment: asked.payment };
    case 'below-bands':
      return { code: 'below-bands', worth: worthIn(rate, asked.rows) };
  }
}

/** What every judgement of a line needs; one object a line, so that no closure is made for it. */
interface Case {
  terms: AffiliateTerms;
  sold: Sold;
  asked: Question;
  decided: Rate | null;
}

/** Why a rate that fits is kept from applying here; null where nothing keeps it. */
function heldBack(rate: Rate, { terms, sold }: Case): RateReason | null {
  if (sold.locked && isSpecial(rate.rung)) return locked;
  return rate.rung === 'group' && terms.group?.paused ? paused : null;
}

/** Why a rate lost against the one that decided. */
function whyLost(rate: Rate, decided: Rate | null): RateReason {
  if (!decided) return earlier;
  if (decided.rung !== rate.rung) return lower;
  if (width(decided.what) < width(rate.what)) return wider;
  return decided.who !== rate.who ? tagBefore : earlier;
}

function judge(rate: Rate, line: Case): Considered {
  const { asked, decided } = line;
  if (rate === decided) return { rate, outcome: 'wins', why: decides };
  const fit = fitOf(rate, asked.at, asked.payment, asked.rows);
  if (fit !== 'applies' && fit !== 'nothing-left')
    return { rate, outcome: 'does-not-apply', why: whyNot(fit, rate, asked) };
  const held = heldBack(rate, line);
  if (held !== null) return { rate, outcome: 'does-not-apply', why: held };
  return { rate, outcome: 'loses', why: whyLost(rate, decided) };
}

// what ended long ago or begins in a while would fill every working: only what was near is said
const near = 60 * 86_400_000;

function isNear(rate: Rate, at: number): boolean {
  return (
    rate.from <= at + near &&
    (rate.until === null || rate.until > at - near) &&
    (rate.until === null || rate.until > rate.from)
  );
}

function judgeList(rates: readonly Rate[] | undefined, rung: Rung, line: Case, list: Considered[]): void {
  if (!rates) return;
  const { at } = line.asked;
  for (let i = 0; i < rates.length; i += 1) {
    const rate = rates[i]!;
    if (rate.rung === rung && isNear(rate, at)) list.push(judge(rate, line));
  }
}

function judgeShelf(shelf: Shelf | undefined, rung: Rung, line: Case, list: Considered[]): void {
  if (!shelf) return;
  const { sold } = line;
  if (sold.step) judgeList(shelf.step.get(sold.step), rung, line, list);
  if (rung !== 'programme') judgeList(shelf.product.get(sold.product), rung, line, list);
  if (rung === 'product') return;
  judgeList(shelf.kind.get(sold.kind), rung, line, list);
  judgeList(shelf.everything, rung, line, list);
}

function rungOf(rung: Rung, shelf: Shelf | undefined, line: Case): RungWorking {
  if (!shelf) return nothingHere[rung];
  const list: Considered[] = [];
  judgeShelf(shelf, rung, line, list);
  return list.length ? { rung, considered: list } : nothingHere[rung];
}

function tagRung(shelves: EventBook, line: Case): RungWorking {
  if (line.terms.tags.length === 0) return nothingHere.tag;
  const list: Considered[] = [];
  for (const tag of line.terms.tags) judgeShelf(shelves.tag.get(tag), 'tag', line, list);
  return list.length ? { rung: 'tag', considered: list } : nothingHere.tag;
}

/**
 * Every rate that touches this affiliate and event, rung by rung, narrow before wide, with why it won, lost or does not apply.
 * @param decided what `winner` returned for the same arguments
 */
export function considered(
  book: Book,
  terms: AffiliateTerms,
  { sold, asked, decided }: { sold: Sold; asked: Question; decided: Rate | null },
): RungWorking[] {
  const shelves = book[asked.event];
  const line: Case = { terms, sold, asked, decided };
  return [
    rungOf('personal', shelves.personal.get(terms.affiliate), line),
    tagRung(shelves, line),
    rungOf('group', terms.group ? shelves.group.get(terms.group.id) : undefined, line),
    rungOf('card', terms.card === null ? undefined : shelves.card.get(terms.card), line),
    rungOf('product', shelves.everyone, line),
    rungOf('programme', shelves.everyone, line),
  ];
}

const noUplifts: Considered[] = Object.freeze([]) as readonly Considered[] as Considered[];

/** Every uplift that covers the line and is for this affiliate, with why it raised it or not. @param chosen the one that counts, or null */
export function consideredUplifts(
  book: Book,
  terms: AffiliateTerms,
  { sold, asked, chosen }: { sold: Sold; asked: Question; chosen: Rate | null },
): Considered[] {
  const { uplifts } = book[asked.event];
  if (uplifts.length === 0) return noUplifts;
  return uplifts
    .filter(
      (u) =>
        covers(u.what, sold) &&
        isNear(u, asked.at) &&
        (isFor(u, terms) || (u.rung === 'group' && u.who === terms.group?.id)),
    )
    .map((rate) => {
      if (rate === chosen) return { rate, outcome: 'wins', why: raises };
      const fit = fitOf(rate, asked.at, asked.payment, asked.rows);
      if (fit === 'nothing-left') return { rate, outcome: 'does-not-apply', why: { code: 'payments-over' } };
      if (fit !== 'applies') return { rate, outcome: 'does-not-apply', why: whyNot(fit, rate, asked) };
      if (sold.locked) return { rate, outcome: 'does-not-apply', why: locked };
      if (!isFor(rate, terms)) return { rate, outcome: 'does-not-apply', why: paused };
      return { rate, outcome: 'loses', why: chosen ? better : raisesNothing };
    });
}
