import { formatMoment } from '../../../core/calendar/format';
import { emptyCreative, type CreativeField, type CreativeFields } from '../../../core/material/creative';
import type { App } from '../../ground/context';
import { keptProducts } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { audienceNames, audienceWords } from '../audience/audience';
import { fileByHash } from './files';

type Reading = (field: string, value: unknown) => string;

const short = (text: string) => (text.length > 80 ? `${text.slice(0, 80).trimEnd()}…` : text);

/** Values of fields in words, as a list of changes shows them. */
export function valueReader(app: App): Reading {
  const { zone } = theProgramme(app);
  const products = new Map<string, string>(keptProducts(app).map((p) => [p.id, p.name]));
  const moment = (at: number | null, none: string) => (at === null ? none : formatMoment(at, zone));
  const read: Partial<Record<CreativeField, (fields: CreativeFields) => string>> = {
    active: ({ active }) => (active ? 'on' : 'off'),
    from: ({ from }) => moment(from, 'at once'),
    until: ({ until }) => moment(until, 'no end'),
    products: (fields) =>
      fields.products.map((id) => products.get(id) ?? 'one that is gone').join(', ') || 'the programme',
    audience: ({ audience }) => audienceWords(audience, audienceNames(app, [audience])),
    landing: ({ landing }) => landing || 'the page of its product',
    subjects: ({ subjects }) => short(subjects.join(' · ')),
    file: ({ file }) => fileWords(app, file),
    poster: ({ poster }) => fileWords(app, poster),
  };
  return (field, value) => {
    const own = read[field as CreativeField];
    if (own) return own({ ...emptyCreative, [field]: value });
    return typeof value === 'string' && value !== '' ? short(value) : 'nothing';
  };
}

function fileWords(app: App, hash: string | null): string {
  const file = hash === null ? undefined : fileByHash(app, hash);
  if (!file) return 'no file';
  return file.width ? `${file.width} × ${file.height} ${file.type.split('/')[1]!.toUpperCase()}` : 'a video';
}
