import { and, eq, inArray } from 'drizzle-orm';
import type { BodyOf, QueryOf, ReplyOf } from '../../../contract/endpoint';
import type {
  answerRequest as Answer,
  askForMaterial as Ask,
  listRequests as List,
  OwnRequest,
  RequestOut,
} from '../../../contract/equip/requests';
import { oneOfKind } from '../../../core/material/lists';
import { readSize, sizeName } from '../../../core/material/sizes';
import type { Id } from '../../../core/text/id';
import { asAffiliate, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { afterCursor, cut, inOrder } from '../../ground/db/page';
import { Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { requests } from '../../ground/tables/requests';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { stale } from '../../registers/access/stale';
import { keptProducts } from '../../registers/catalogue/store';
import { queue } from '../../registers/outbox/queue';
import { affiliateById } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { promotable } from '../audience/member';
import { creativeMaybe } from '../creatives/store';
import { mayUse } from '../links/own';
import { addRequest, changeRequest, openOf, requestById, requestsOf, type RequestRecord } from './store';

const mostOpen = 10;

function showOwn(app: App, row: RequestRecord): OwnRequest {
  const { id, kind, size, subject, language, words, at, state, answeredAt, answer } = row;
  const product = keptProducts(app).find((p) => p.id === row.product);
  const creative = row.creative === null ? undefined : creativeMaybe(app, row.creative);
  return {
    ...{ id, kind, size, subject, language, words, at, state, answeredAt, answer },
    product: product ? { id: product.id, code: product.code, name: product.name } : null,
    creative: creative ? { id: creative.id, name: creative.name } : null,
  };
}

function showAll(app: App, rows: readonly RequestRecord[]): RequestOut[] {
  const ids = [...new Set(rows.map((r) => r.affiliate))];
  const some = { id: affiliates.id, name: affiliates.name };
  const names = new Map(
    (ids.length ? app.db.select(some).from(affiliates).where(inArray(affiliates.id, ids)).all() : []).map(
      (a) => [a.id, a.name],
    ),
  );
  const by = namesOf(app, new Set(rows.map((r) => r.answeredBy)));
  return rows.map((row) => ({
    ...showOwn(app, row),
    affiliate: { id: row.affiliate, name: names.get(row.affiliate) ?? '' },
    answeredBy: by(row.answeredBy),
    version: row.version,
  }));
}

const showOne = (app: App, id: Id<'request'>): RequestOut => showAll(app, [requestById(app, id)])[0]!;

const keyset = { by: requests.at, id: requests.id } as const;

/** What affiliates ask for: what waits from the oldest on, what is done from the newest on. */
export function listRequests(
  app: App,
  { state = 'open', after, limit = 50 }: QueryOf<typeof List>,
): ReplyOf<typeof List> {
  const order = { ...keyset, order: state === 'open' ? 'asc' : 'desc' } as const;
  const found = app.db
    .select()
    .from(requests)
    .where(and(eq(requests.state, state), afterCursor(order, after)))
    .orderBy(...inOrder(order))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.at, r.id]);
  return { rows: showAll(app, rows), next };
}

export const listOwnRequests = (app: App, affiliate: Id<'affiliate'>): { rows: OwnRequest[] } => ({
  rows: requestsOf(app, affiliate).map((row) => showOwn(app, row)),
});

/** An affiliate asks for material. @throws Problem `invalid`; `too-many` where ten of its wait already */
export function askForMaterial(app: App, actor: Actor, input: BodyOf<typeof Ask>): OwnRequest {
  const affiliate = asAffiliate(actor);
  const product =
    input.product === '' ? null : promotable(app, affiliate).find((p) => p.code === input.product);
  if (product === undefined)
    throw refuse('product', `Product: you promote none of the code ${input.product}; leave it empty for any`);
  const size = input.size.trim() === '' ? null : readSize(input.size);
  if (input.size.trim() !== '' && !size)
    throw refuse('size', 'Size: two numbers of pixels with an x between them', '160x600');
  if (openOf(app, affiliate) >= mostOpen)
    throw new Problem('too-many', `${mostOpen} of what you asked for wait already; withdraw one first`);
  const id = newId('request');
  addRequest(app, {
    id,
    affiliate,
    kind: input.kind,
    size: size ? sizeName(size) : '',
    subject: input.subject.trim(),
    language: input.language.trim(),
    product: product?.id ?? null,
    words: input.words.trim(),
    at: app.clock.now(),
  });
  record(app, actor, 'material-asked', { subject: id, before: null, after: { words: input.words.trim() } });
  return showOwn(app, requestById(app, id));
}

export function withdrawRequest(app: App, actor: Actor, id: Id<'request'>): OwnRequest {
  const row = requestById(app, id);
  if (row.affiliate !== asAffiliate(actor)) throw new Problem('not-found', 'Nobody has asked for this');
  if (row.state === 'answered') throw new Problem('conflict', 'This was answered already');
  if (row.state === 'open') {
    changeRequest(app, row, { state: 'withdrawn', answeredAt: app.clock.now(), answeredBy: actor.id });
    record(app, actor, 'material-withdrawn', { subject: id, before: null, after: null });
  }
  return showOwn(app, requestById(app, id));
}

/** What was asked for, in a few words: “a banner 160×600, Easter”. */
export function askedWords({ kind, size, subject, language }: RequestRecord): string {
  return [`${oneOfKind(kind)}${size ? ` ${size}` : ''}`, subject, language].filter(Boolean).join(', ');
}

function tell(
  app: App,
  row: RequestRecord,
  { creative, answer }: { creative: string | null; answer: string },
): void {
  const { name, email, id } = affiliateById(app, row.affiliate);
  const programme = theProgramme(app).name;
  const found = creative === null ? '' : `\n\n${app.address}/portal/creatives?id=${creative}`;
  queue(app, {
    to: email,
    affiliate: id,
    kind: 'material',
    subject: `You asked ${programme} for ${askedWords(row)}`,
    body: `Hello ${name},\n\n${creative === null ? '' : 'it is there now, with a link of your own.'}${answer ? `${creative === null ? '' : '\n\n'}${answer}` : ''}${found}\n\nYou wrote: ${row.words}`,
  });
}

/**
 * Answers what an affiliate asks for, and tells it.
 * @throws Problem `invalid` without a creative and without words, or with a creative that the affiliate would not find; `stale`, `conflict` where it was answered meanwhile
 */
export function answerRequest(
  app: App,
  actor: Actor,
  id: Id<'request'>,
  { creative, answer, version }: BodyOf<typeof Answer>,
): RequestOut {
  const row = requestById(app, id);
  if (row.version !== version) throw stale(app, id, 'this request', showOne(app, id));
  if (row.state !== 'open') throw new Problem('conflict', `This was ${row.state} already`);
  if (creative === null && answer.trim() === '')
    throw refuse('answer', 'Words: say something, or choose a creative');
  if (creative !== null && !mayUse(app, row.affiliate, creative))
    throw refuse(
      'creative',
      'Creative: this affiliate would not find it: it is not on, not for it, or for a product that it does not promote',
    );
  const fields = { creative, answer: answer.trim() };
  changeRequest(app, row, {
    ...fields,
    state: 'answered',
    answeredAt: app.clock.now(),
    answeredBy: actor.id,
  });
  tell(app, row, fields);
  record(app, actor, 'material-answered', { subject: id, before: null, after: fields });
  return showOne(app, id);
}

/** Takes an answer back: it waits again. What was told was told. */
export function reopenRequest(app: App, actor: Actor, id: Id<'request'>): RequestOut {
  const row = requestById(app, id);
  if (row.state === 'withdrawn') throw new Problem('conflict', 'The affiliate has withdrawn this');
  if (row.state === 'answered') {
    changeRequest(app, row, {
      state: 'open',
      answeredAt: null,
      answeredBy: null,
      creative: null,
      answer: '',
    });
    record(app, actor, 'material-reopened', { subject: id, before: { answer: row.answer }, after: null });
  }
  return showOne(app, id);
}
