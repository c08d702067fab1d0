import { eq } from 'drizzle-orm';
import { type Timing } from '../../../core/ledger/timing';
import type { JudgedPractice } from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import type { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { productById } from '../../registers/catalogue/store';
import { queue, undoSeconds, withAccess, withdraw } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { judgedIn } from '../practices/meant';
import { answerInWords, permissionsOf } from '../practices/permissions';
import { approve, takeApprovalBack } from './approve';
import { isOpen, questionsOf } from './questions';
import { applicationById, statements } from './service';
import { giveTrust } from './trust';

interface Decision {
  ids: Id<'application'>[];
  decision: 'approve' | 'decline';
  timing?: Timing;
  reason: string;
  message: boolean;
  /** also for every later product */
  trust?: { until: string; atSale: boolean } | null;
}

/** Where nobody of ours has read the name, it is not said: it may be anybody's words to anybody's address. */
const greeting = (actor: Actor, f: { name: string; joinedAt: number | null }) =>
  actor.kind === 'staff' || f.joinedAt !== null ? `Hello ${f.name},` : 'Hello,';

type Application = typeof applications.$inferSelect;
type Affiliate = typeof affiliates.$inferSelect;

/** @throws Problem `invalid` where the decision does not say enough */
function checkDecision({ decision, timing, reason }: Decision): void {
  if (decision === 'approve' && !timing)
    throw refuse('timing', 'Timing is missing: at sale or after hold', 'after-hold');
  if (decision === 'decline' && reason.trim() === '')
    throw refuse(
      'reason',
      'Reason is empty: it is kept with the decision, and sent if you choose so',
      'Coupon sites are not part of this programme',
    );
}

/** Why an application is passed over; null where it can be decided. */
function whyPassed(a: Application, f: Affiliate, { decision }: Decision): string | null {
  if (!isOpen(a.state)) return `was ${a.state} meanwhile`;
  return f.state === 'blocked' && decision === 'approve' ? `${f.name} is blocked` : null;
}

/** What was answered about practices before the decision, and what is still to be asked, as the message has room for it. */
function answered(app: App, a: Application, f: Affiliate): string {
  const given = permissionsOf(app, f.id);
  const known = new Set(given.map((p) => p.practice));
  const open = judgedIn(app, a, f).filter((j) => !known.has(j.key));
  const list = (answer: JudgedPractice['answer']) =>
    open
      .filter((j) => j.answer === answer)
      .map((j) => j.name)
      .join('; ');
  const [toAsk, notHere] = [list('ask-first'), list('not-here')];
  return [
    given.length ? `You asked:\n${given.map(answerInWords).join('\n')}\n\n` : '',
    toAsk ? `Please ask us before you begin with: ${toAsk}.\n\n` : '',
    notHere ? `Not part of this programme: ${notHere}.\n\n` : '',
  ].join('');
}

/** Tells an applicant what was decided; the message is held as long as the decision can be taken back. */
function tellDecision(
  app: App,
  actor: Actor,
  decided: { a: Application; f: Affiliate; about: string },
  input: Decision,
): void {
  const { a, f, about } = decided;
  const { name, contact } = theProgramme(app);
  const message = { to: f.email, affiliate: f.id, subjectOf: a.id, holdSeconds: undoSeconds() };
  if (input.decision === 'decline') {
    if (!input.message) return;
    queue(app, {
      ...message,
      kind: 'application-declined',
      subject: `Your application to ${name}`,
      body: `${greeting(actor, f)}\n\nthank you for applying for ${about}. We have decided against it:\n\n${input.reason.trim()}\n\n${name}`,
    });
    return;
  }
  const when =
    input.timing === 'at-sale'
      ? 'Your commissions can be paid from the moment of the sale.'
      : 'Your commissions are held until the refund window has passed.';
  queue(app, {
    ...message,
    kind: 'application-approved',
    subject: `Welcome to ${name}`,
    body: withAccess(
      app,
      f,
      `${greeting(actor, f)}\n\nyou are approved for ${about}. ${when}\n\n${answered(app, a, f)}`,
      `\n\nYour tracking links wait for you in the portal. Questions: ${contact}\n\n${name}`,
    ),
  });
}

function decideOne(
  app: App,
  actor: Actor,
  { a, f }: { a: Application; f: Affiliate },
  input: Decision,
): void {
  const p = a.product === null ? undefined : productById(app, a.product);
  const state = input.decision === 'approve' ? 'approved' : 'declined';
  const [timing, reason] = [input.timing ?? null, input.reason.trim() || null];
  // before anything that it brings about, which is taken back from this moment on
  const decidedAt = app.clock.now();
  record(app, actor, `application-${state}`, {
    subject: a.id,
    before: { state: a.state },
    after: { state, timing, reason, affiliate: f.id },
  });
  const before =
    state === 'approved'
      ? approve(app, actor, f, { product: p?.id ?? null, timing: input.timing! })
      : a.before;
  statements(app).decide.run(
    { state, timing, reason, before, decidedAt, decidedBy: actor.id, version: a.version + 1 },
    a.id,
  );
  if (state === 'approved' && input.trust) giveTrust(app, actor, f.id, input.trust);
  tellDecision(app, actor, { a, f, about: p ? p.name : 'the whole programme' }, input);
}

/** Decides applications; those that somebody else decided meanwhile are passed over and named. */
export function decide(app: App, actor: Actor, input: Decision) {
  checkDecision(input);
  const decided: Id<'application'>[] = [];
  const passed: { id: Id<'application'>; why: string }[] = [];
  for (const id of new Set(input.ids)) {
    const a = statements(app).application.get(id);
    const f = a && statements(app).affiliate.get(a.affiliate);
    const why = a && f ? whyPassed(a, f, input) : 'does not exist';
    if (why !== null) passed.push({ id, why });
    else {
      decideOne(app, actor, { a: a!, f: f! }, input);
      decided.push(id);
    }
  }
  touch(app, 'records');
  return { decided, passed };
}

/** Takes decisions back while their messages have not left: the approval ends as if it had not been. */
export function reopen(app: App, actor: Actor, ids: Id<'application'>[]) {
  const reopened: Id<'application'>[] = [];
  const passed: { id: Id<'application'>; why: string }[] = [];
  for (const id of new Set(ids)) {
    const { a, f } = applicationById(app, id);
    if (a.state !== 'approved' && a.state !== 'declined') {
      passed.push({ id, why: `is ${a.state}` });
      continue;
    }
    if ((a.decidedAt ?? 0) < app.clock.now() - undoSeconds() * 1000 - 2000 || !withdraw(app, id)) {
      passed.push({ id, why: 'its message has left' });
      continue;
    }
    if (a.state === 'approved') takeApprovalBack(app, actor, a, f);
    // what was asked and is not answered is still awaited
    const state = questionsOf(app, id).some((q) => q.answer === null)
      ? ('asked' as const)
      : ('waiting' as const);
    app.db
      .update(applications)
      .set({
        state,
        timing: null,
        reason: null,
        decidedAt: null,
        decidedBy: null,
        before: null,
        version: a.version + 1,
      })
      .where(eq(applications.id, id))
      .run();
    record(app, actor, 'application-reopened', { subject: id, before: { state: a.state }, after: { state } });
    reopened.push(id);
  }
  touch(app, 'records');
  return { reopened, passed };
}
