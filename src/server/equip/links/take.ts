import type { OwnCreative } from '../../../contract/portal/material';
import { copiesOf, type Copied } from '../../../core/material/copies';
import { inlineLetter, plainLetter, type LetterValues } from '../../../core/material/letter';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { linkAddress, linkMade, linkOf } from '../../registers/people/links';
import { affiliateById } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { fileByHash, showFile } from '../creatives/files';
import { leadsTo, productLed } from '../creatives/leads';
import type { CreativeRecord } from '../creatives/store';
import { letterHtml } from './markdown';
import { ownCreative, ownRow } from './own';
import { codeFor } from './own-coupons';
import { wordsFor, type OwnWords } from './words';

const urlOf = (app: App, hash: string | null): string | null => {
  const file = hash === null ? undefined : fileByHash(app, hash);
  return file ? showFile(app, file).url : null;
};

function copied(
  app: App,
  row: CreativeRecord,
  words: OwnWords,
  who: { link: string; handle: string },
): Copied {
  const { kind, name, width, height, texts } = row;
  return {
    ...{ kind, name, width, height, ...who },
    file: urlOf(app, row.file),
    poster: urlOf(app, row.poster),
    alt: words.alt,
    words: words.words,
    around: words.around,
    code: words.code,
    address: texts.address,
  };
}

/** What the words of a letter are filled with for one affiliate. */
export function letterValues(
  app: App,
  affiliate: Id<'affiliate'>,
  row: CreativeRecord,
  link: string,
): LetterValues {
  const { name, handle } = affiliateById(app, affiliate);
  return {
    ...{ link, name, handle },
    product: productLed(app, row.products)?.name ?? theProgramme(app).name,
    coupon: codeFor(app, affiliate, row.products),
  };
}

interface Asked {
  affiliate: Id<'affiliate'>;
  before: number | null;
}

/** A creative as an affiliate uses it; with its copies where its link was made already. */
export function showOwn(app: App, asked: Asked, id: Id<'creative'>): OwnCreative {
  const { affiliate } = asked;
  const row = ownCreative(app, affiliate, id);
  const words = wordsFor(app, affiliate, [row])(row);
  const code = linkOf(app, affiliate, { creative: id });
  const link = code === null ? '' : linkAddress(app, code);
  const { handle } = affiliateById(app, affiliate);
  const values = letterValues(app, affiliate, row, link || '{link}');
  const body = plainLetter(words.body, values);
  return {
    row: ownRow(app, asked, row),
    copies: code === null ? null : { link, ...copiesOf(copied(app, row, words, { link, handle })) },
    alt: words.alt,
    words: words.words,
    around: words.around,
    code: words.code,
    address: row.texts.address,
    subjects: words.subjects.map((line) => inlineLetter(line, values)),
    letter: { text: body, html: row.kind === 'email' ? letterHtml(words.body, values) : '' },
    leads: leadsTo(app, row),
  };
}

/** Takes a creative: the affiliate's own link of it is made the first time. Two at once get the same. */
export function takeOwn(app: App, asked: Asked, id: Id<'creative'>): OwnCreative {
  ownCreative(app, asked.affiliate, id);
  app.transaction(() => linkMade(app, asked.affiliate, { creative: id }));
  return showOwn(app, asked, id);
}
