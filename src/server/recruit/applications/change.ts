import { and, eq, inArray } from 'drizzle-orm';
import type { BodyOf } from '../../../contract/endpoint';
import type { changeDecision as Change } from '../../../contract/recruit/applications';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem, refuse } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { record } from '../../registers/access/audit';
import { queue, withAccess } from '../../registers/outbox/queue';
import { endApproval, openApprovals } from '../../registers/people/approvals';
import { changeAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { approve } from './approve';
import { openStates } from './questions';
import { applicationById, readApplication } from './service';

type Input = BodyOf<typeof Change>;
type Application = ReturnType<typeof applicationById>;

/** @throws Problem where the decision cannot become this one */
function checkChange({ a, f }: Application, input: Input): 'approved' | 'declined' {
  const to = input.decision === 'approve' ? 'approved' : 'declined';
  if (a.state !== 'approved' && a.state !== 'declined')
    throw new Problem('conflict', `This application is ${a.state}; decide it first`);
  if (a.state === to && (to === 'declined' || a.timing === input.timing))
    throw new Problem(
      'conflict',
      `This application is ${to} already${to === 'approved' ? ` with that timing` : ''}`,
    );
  if (to === 'approved') checkApproval(f, input);
  else if (input.reason.trim() === '')
    throw refuse(
      'reason',
      'Reason is empty: it is kept with the decision, and sent if you choose so',
      'The site has changed hands',
    );
  return to;
}

function checkApproval(f: Application['f'], { timing }: Input): void {
  if (!timing) throw refuse('timing', 'Timing is missing: at sale or after hold', 'after-hold');
  if (f.state === 'blocked')
    throw new Problem('conflict', `${f.name} is blocked; unblock it on its page first`);
}

/** Approves who was declined, from now on. */
function approveAfterAll(app: App, actor: Actor, { a, f, p }: Application, input: Input): void {
  const { name, contact } = theProgramme(app);
  approve(app, actor, f, { product: p?.id ?? null, timing: input.timing! });
  if (!input.message) return;
  queue(app, {
    to: f.email,
    affiliate: f.id,
    kind: 'application-approved',
    subject: `Welcome to ${name}`,
    subjectOf: a.id,
    body: withAccess(
      app,
      f,
      `Hello ${f.name},\n\nwe have looked again: you are approved for ${p ? p.name : 'the whole programme'}.\n\n`,
      `\n\nQuestions: ${contact}\n\n${name}`,
    ),
  });
}

/** Ends an approval from now on; who is approved for nothing any more has ended. */
function declineAfterAll(app: App, actor: Actor, { a, f, p }: Application, input: Input): void {
  endApproval(app, f.id, a.product, app.clock.now());
  if (!openApprovals(app, f.id).length && (f.state === 'active' || f.state === 'paused')) {
    changeAffiliate(app, f.id, { state: 'ended' });
    record(app, actor, 'affiliate-moved', {
      subject: f.id,
      before: { state: f.state },
      after: { state: 'ended', reason: 'approved for nothing any more' },
    });
  }
  if (!input.message) return;
  const { name, contact } = theProgramme(app);
  const about = p ? p.name : 'the whole programme';
  queue(app, {
    to: f.email,
    affiliate: f.id,
    kind: 'application-declined',
    subject: `Your approval for ${about}`,
    subjectOf: a.id,
    body: `Hello ${f.name},\n\nwe have looked again at your approval for ${about} and end it today:\n\n${input.reason.trim()}\n\nWhat you have earned is still paid. Questions: ${contact}\n\n${name}`,
  });
}

/**
 * Changes a decision after its time for taking back: from now on. What was earned before stays. Who is approved for nothing any more
 * has ended; who is approved after all begins now.
 */
export function changeDecision(app: App, actor: Actor, id: Id<'application'>, input: Input) {
  const application = applicationById(app, id);
  const { a, f } = application;
  const to = checkChange(application, input);
  const reason = input.reason.trim() || null;
  app.db
    .update(applications)
    .set({
      state: to,
      timing: to === 'approved' ? input.timing! : null,
      reason,
      decidedAt: app.clock.now(),
      decidedBy: actor.id,
      version: a.version + 1,
    })
    .where(eq(applications.id, id))
    .run();
  record(app, actor, 'decision-changed', {
    subject: id,
    before: { state: a.state, timing: a.timing },
    after: { state: to, timing: input.timing ?? null, reason, affiliate: f.id },
  });
  if (to === 'approved') approveAfterAll(app, actor, application, input);
  else declineAfterAll(app, actor, application, input);
  touch(app, 'records');
  return readApplication(app, id);
}

/** Declines, without a message, what somebody who is blocked still waits for. */
export function declineOpen(app: App, actor: Actor, affiliate: Id<'affiliate'>): void {
  for (const a of app.db
    .select()
    .from(applications)
    .where(and(eq(applications.affiliate, affiliate), inArray(applications.state, [...openStates])))
    .all()) {
    app.db
      .update(applications)
      .set({
        state: 'declined',
        reason: 'The applicant was blocked',
        decidedAt: app.clock.now(),
        decidedBy: actor.id,
        version: a.version + 1,
      })
      .where(eq(applications.id, a.id))
      .run();
    record(app, actor, 'application-declined', {
      subject: a.id,
      before: { state: a.state },
      after: { state: 'declined', reason: 'The applicant was blocked', affiliate },
    });
  }
}
