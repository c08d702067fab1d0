import { desc, eq } from 'drizzle-orm';
import type { CreativeOut } from '../../../contract/equip/creatives';
import { formatMoment } from '../../../core/calendar/format';
import {
  emptyCreative,
  fieldWords,
  type CreativeField,
  type CreativeFields,
} from '../../../core/material/creative';
import { withBefore } from '../../../core/material/planned';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { plannedChanges } from '../../ground/tables/creatives';
import { namesOf } from '../../registers/access/names';
import { keptProducts } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { filled } from '../../setup/terms/live';
import { audienceNames, audienceWords, namedIn } from './audience';
import { adviceOf } from './check';
import { fileByHash } from './files';
import { leadsTo } from './leads';
import { showRows } from './list';
import { stateNow } from './states';
import { creativeById, fieldsOf, type CreativeRecord, type PlannedRecord } from './store';

/** Planned changes that are over, shown with what is coming. */
const mostPast = 20;

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

function showPlanned(app: App, row: CreativeRecord): CreativeOut['planned'] {
  const all = app.db
    .select()
    .from(plannedChanges)
    .where(eq(plannedChanges.subject, row.id))
    .orderBy(desc(plannedChanges.at), desc(plannedChanges.id))
    .all();
  const coming = all.filter((p) => p.state === 'coming');
  const past = all.filter((p) => p.state !== 'coming').slice(0, mostPast);
  const names = namesOf(app, new Set(all.map((p) => p.by)));
  const read = valueReader(app);
  const stepped = withBefore(
    fieldsOf(row),
    coming.map((p) => ({ ...p, value: p.value.is })),
  );
  const show = (p: Omit<PlannedRecord, 'value' | 'before'>, before: unknown, after: unknown) => ({
    id: p.id,
    at: p.at,
    field: p.field,
    what: fieldWords[p.field as CreativeField],
    before: read(p.field, before),
    after: read(p.field, after),
    by: names(p.by),
    state: p.state,
    why: p.why,
    ended: p.endedAt,
  });
  return [
    ...stepped.map((p) => show(p, p.before, p.value)),
    ...past.map((p) => show(p, p.before?.is, p.value.is)),
  ];
}

/** A creative as its sheet shows it. */
export function showCreative(app: App, id: Id<'creative'>): CreativeOut {
  const row = creativeById(app, id);
  const fields = fieldsOf(row);
  const [shown] = showRows(app, [row]);
  return {
    ...fields,
    products: [...fields.products],
    subjects: [...fields.subjects],
    id: row.id,
    kind: row.kind,
    state: stateNow(app, row),
    row: shown!,
    leads: leadsTo(app, row),
    advice: adviceOf(app, row.kind, fields),
    planned: showPlanned(app, row),
    reads: {
      words: filled(app, fields.words),
      around: keepingOwn(app, fields.around),
      code: fields.code,
      body: keepingOwn(app, fields.body),
    },
    named: namedIn(app, fields.audience),
    files: { file: shown!.file, poster: shown!.poster },
    removed: row.removedAt !== null,
    createdAt: row.createdAt,
    by: namesOf(app, [row.by])(row.by),
    version: row.version,
  };
}

const own = /\{\s*(link|name|handle|product|coupon)\s*\}/g;

/** Rates and prices filled in; what is filled for each reader stays. */
function keepingOwn(app: App, text: string): string {
  const kept: string[] = [];
  const masked = text.replace(own, (raw) => `\u0001${kept.push(raw) - 1}\u0001`);
  return filled(app, masked).replace(/\u0001(\d+)\u0001/g, (_, n: string) => kept[Number(n)]!);
}
