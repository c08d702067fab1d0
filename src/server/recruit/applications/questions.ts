import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readQuestion as Read } from '../../../contract/recruit/applications';
import { dayOf } from '../../../core/calendar/zone';
import { type Id } from '../../../core/text/id';
import { asAffiliate, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { applications, questions } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { questionOf } from '../../registers/access/links';
import { namesOf } from '../../registers/access/names';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { asksLeft } from '../allowance/allowance';

/** States in which an application is still open to a decision. */
export const openStates = ['waiting', 'asked'] as const;
export const isOpen = (state: string): boolean => (openStates as readonly string[]).includes(state);

/** Questions of an application, oldest first. */
export function questionsOf(app: App, application: Id<'application'>) {
  const rows = app.db
    .select()
    .from(questions)
    .where(eq(questions.application, application))
    .orderBy(questions.at, questions.id)
    .all();
  const name = namesOf(
    app,
    rows.map((r) => r.by),
  );
  return rows.map(({ id, at, by, question, answer, answeredAt }) => ({
    id,
    at,
    by: name(by),
    question,
    answer,
    answeredAt,
  }));
}

/** Asks an applicant; the application waits for the answer then. @throws Problem `conflict` once decided, or when the day's messages are used up */
export function ask(app: App, actor: Actor, application: Id<'application'>, text: string): void {
  const found = app.db
    .select({ a: applications, f: affiliates })
    .from(applications)
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .where(eq(applications.id, application))
    .get();
  if (!found) throw new Problem('not-found', 'This application does not exist');
  const { a, f } = found;
  if (!isOpen(a.state)) throw new Problem('conflict', `This application was ${a.state} meanwhile`);
  const { name, zone, contact, messagesPerDay } = theProgramme(app);
  const counted = f.joinedAt === null;
  if (counted && asksLeft(app) === 0)
    throw new Problem(
      'conflict',
      `The ${messagesPerDay} messages of today to people who have not joined are used up; ask again tomorrow`,
    );
  const id = newId('question');
  const now = app.clock.now();
  app.db
    .insert(questions)
    .values({ id, application, at: now, day: dayOf(now, zone), by: actor.id, question: text.trim(), counted })
    .run();
  app.db
    .update(applications)
    .set({ state: 'asked', version: a.version + 1 })
    .where(eq(applications.id, application))
    .run();
  record(app, actor, 'applicant-asked', {
    subject: application,
    before: { state: a.state },
    after: { state: 'asked', question: text.trim(), affiliate: f.id },
  });
  queue(app, {
    to: f.email,
    affiliate: f.id,
    kind: 'application-question',
    subject: `A question on your application to ${name}`,
    subjectOf: id,
    body: [
      `Hello ${f.name},\n\nbefore we decide we would like to know:\n\n${text.trim()}\n\nAnswer here:\n`,
      `\n\nQuestions: ${contact}\n\n${name}`,
    ],
    link: { use: 'answer', question: id },
  });
}

type Asked = NonNullable<ReturnType<typeof asked>>;

/** A question with the application and the applicant that it went to. */
const asked = (app: App, id: Id<'question'>) =>
  app.db
    .select({ q: questions, a: applications, f: affiliates })
    .from(questions)
    .innerJoin(applications, eq(applications.id, questions.application))
    .innerJoin(affiliates, eq(affiliates.id, applications.affiliate))
    .where(eq(questions.id, id))
    .get();

function find(app: App, token: string): Asked {
  const id = questionOf(app, token);
  const row = id && asked(app, id);
  if (!row)
    throw new Problem('not-found', 'This link leads to no question; it may have been copied incompletely');
  return row;
}

/** A question as the one who was asked reads it. @param token of the link in the message */
export function readQuestion(app: App, token: string): ReplyOf<typeof Read> {
  const { q, a, f } = find(app, token);
  const { name, contact } = theProgramme(app);
  return {
    programme: name,
    contact,
    name: f.name,
    question: q.question,
    at: q.at,
    answer: q.answer,
    open: q.answer === null && isOpen(a.state),
  };
}

/** Takes the answer: once, while the application is open. The application waits for a person again when nothing else is unanswered. */
export function answer(app: App, token: string, text: string): ReplyOf<typeof Read> {
  take(app, { kind: 'open', id: 'open' }, find(app, token), text.trim());
  return readQuestion(app, token);
}

/** The same from the portal, where whoever answers has signed in. Another's question does not exist here. */
export function answerOwn(app: App, actor: Actor, id: Id<'question'>, text: string): null {
  const row = asked(app, id);
  if (row?.f.id !== asAffiliate(actor)) throw new Problem('not-found', 'This question does not exist');
  app.transaction(() => take(app, actor, row, text.trim()));
  return null;
}

/** The questions to an affiliate that wait for its answer. */
export function openQuestions(app: App, affiliate: Id<'affiliate'>) {
  const rows = app.db
    .select({ q: questions, product: products.name })
    .from(questions)
    .innerJoin(applications, eq(applications.id, questions.application))
    .leftJoin(products, eq(products.id, applications.product))
    .where(
      and(
        eq(applications.affiliate, affiliate),
        inArray(applications.state, [...openStates]),
        isNull(questions.answer),
      ),
    )
    .orderBy(questions.at, questions.id)
    .all();
  const name = namesOf(
    app,
    rows.map(({ q }) => q.by),
  );
  return rows.map(({ q: { id, at, by, question }, product }) => ({
    ...{ id, at, question },
    by: name(by),
    product: product ?? 'the whole programme',
  }));
}

/** @throws Problem `conflict` when it was answered otherwise, or decided, meanwhile */
function take(app: App, actor: Actor, { q, a }: Asked, text: string): void {
  if (q.answer === text) return;
  if (q.answer !== null)
    throw new Problem('conflict', 'This question was answered already; write to us if something has changed');
  if (!isOpen(a.state))
    throw new Problem(
      'conflict',
      `The application was ${a.state} meanwhile; there is no need to answer any more`,
    );
  app.db
    .update(questions)
    .set({ answer: text, answeredAt: app.clock.now() })
    .where(eq(questions.id, q.id))
    .run();
  const unanswered = app.db
    .select({ n: sql<number>`count(*)` })
    .from(questions)
    .where(and(eq(questions.application, a.id), isNull(questions.answer)))
    .get()!.n;
  if (unanswered === 0)
    app.db
      .update(applications)
      .set({ state: 'waiting', version: a.version + 1 })
      .where(eq(applications.id, a.id))
      .run();
  record(app, actor, 'applicant-answered', {
    subject: a.id,
    before: null,
    after: { answer: text, affiliate: a.affiliate },
  });
}
