import { inlineLetter, isLetterPlace } from '../../../core/material/letter';
import { shownText } from '../../../core/material/shown';
import type { Id } from '../../../core/text/id';
import { readOut } from '../../../core/text/live';
import type { App } from '../../ground/context';
import { keptProducts } from '../../registers/catalogue/store';
import { liveValues } from '../../setup/terms/live';
import type { CreativeRecord } from '../creatives/store';

/** The words of a creative as one affiliate reads them. {link}, {name}, {handle}, {product} and {coupon} stay where they are. */
export interface OwnWords {
  note: string;
  alt: string;
  words: string;
  around: string;
  code: string;
  subjects: string[];
  body: string;
  /** what is read of it in a list */
  shown: string;
}

const textsOf = ({ note, texts: { alt, words, around, subjects, body } }: CreativeRecord) => [
  note,
  alt,
  words,
  around,
  body,
  ...subjects,
];

/** What stands for values where only the beginning of a letter is shown. */
const shownAs = { link: '…', name: '…', handle: '…', coupon: '…' };

/** Fills the words of creatives for one affiliate: what they ask for is looked up once for all. */
export function wordsFor(
  app: App,
  affiliate: Id<'affiliate'>,
  rows: readonly CreativeRecord[],
): (row: CreativeRecord) => OwnWords {
  const values = liveValues(app, { affiliate }, rows.flatMap(textsOf));
  const fill = (text: string) => (text.includes('{') ? readOut(text, values, isLetterPlace) : text);
  const names = new Map(keptProducts(app).map((p) => [p.id, p.name]));
  const named = ([first]: readonly Id<'product'>[]) => (first ? names.get(first) : undefined) ?? '…';
  return ({ note, texts, products }) => {
    const { code, address } = texts;
    const [alt, words, around, body] = [texts.alt, texts.words, texts.around, texts.body].map(fill) as [
      string,
      string,
      string,
      string,
    ];
    return {
      note: fill(note),
      ...{ alt, words, around, body },
      // in a piece of HTML braces may be of its own style sheet
      code,
      subjects: texts.subjects.map(fill),
      shown: shownText({
        alt,
        words,
        code,
        address,
        body: inlineLetter(body, { ...shownAs, product: named(products) }),
      }),
    };
  };
}
