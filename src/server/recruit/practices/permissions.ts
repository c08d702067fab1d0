import { and, desc, eq, isNull } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { answerPractice as Answer, endPermission as End } from '../../../contract/recruit/practices';
import { isUsual, usualPractices, type PracticeKey } from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { messages } from '../../ground/tables/outbox';
import { permissions } from '../../ground/tables/practices';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { queue, undoSeconds, withdraw } from '../../registers/outbox/queue';
import { affiliateById, type AffiliateRecord } from '../../registers/people/record';
import { theProgramme } from '../../registers/programme/record';
import { practicesNow } from './meant';

type Permission = typeof permissions.$inferSelect;
type Shown = ReplyOf<typeof Answer>;

function shown(app: App, rows: readonly Permission[]): Shown[] {
  const name = namesOf(
    app,
    rows.map((r) => r.by),
  );
  return rows.map(({ id, practice, name: called, allowed, words, at, by }) => ({
    id,
    practice,
    name: called,
    allowed,
    words,
    at,
    by: name(by),
  }));
}

/** What was answered to an affiliate about practices and stands, the newest first. */
export const permissionsOf = (app: App, affiliate: Id<'affiliate'>): Shown[] =>
  shown(
    app,
    app.db
      .select()
      .from(permissions)
      .where(and(eq(permissions.affiliate, affiliate), isNull(permissions.endedAt)))
      .orderBy(desc(permissions.at), desc(permissions.id))
      .all(),
  );

const standing = (app: App, affiliate: Id<'affiliate'>, practice: PracticeKey): Permission | undefined =>
  app.db
    .select()
    .from(permissions)
    .where(
      and(
        eq(permissions.affiliate, affiliate),
        eq(permissions.practice, practice),
        isNull(permissions.endedAt),
      ),
    )
    .get();

/** What a practice is called now; what is gone from the table by its usual name. @throws Problem `invalid` for one that nobody knows */
function nameOf(app: App, practice: PracticeKey): string {
  const known = practicesNow(app).table.find((p) => p.key === practice)?.name;
  if (known !== undefined) return known;
  if (isUsual(practice)) return usualPractices[practice].name;
  throw refuse('practice', 'Practice: it is not in the policy any more', 'one of those in the policy');
}

/** @throws Problem `invalid` where the application is somebody else’s, or none */
function checkApplication(app: App, id: Id<'application'>, f: AffiliateRecord): void {
  const own = app.db
    .select({ id: applications.id })
    .from(applications)
    .where(and(eq(applications.id, id), eq(applications.affiliate, f.id)))
    .get();
  if (!own) throw refuse('application', `Application: it is not one of ${f.name}`, 'left out');
}

/** Tells somebody who is with us what was answered; an applicant reads it with the decision. */
function tell(app: App, affiliate: Id<'affiliate'>, given: Permission): void {
  const f = affiliateById(app, affiliate);
  if (f.joinedAt === null || (f.state !== 'active' && f.state !== 'paused')) return;
  const { name, contact } = theProgramme(app);
  queue(app, {
    to: f.email,
    affiliate,
    kind: 'practice',
    subject: `${given.name}: ${given.allowed ? 'yes' : 'no'}`,
    subjectOf: given.id,
    holdSeconds: undoSeconds(),
    body: `Hello ${f.name},\n\n${answerInWords(given)}\n\nQuestions: ${contact}\n\n${name}`,
  });
}

/** Tells somebody who was told an answer that it does not stand any more, and what does. @param again the answer before, which stands again */
function tellTakenBack(app: App, row: Permission, again: Permission | null): void {
  const f = affiliateById(app, row.affiliate);
  const wasTold = app.db
    .select({ id: messages.id })
    .from(messages)
    .where(eq(messages.subjectOf, row.id))
    .get();
  if (!wasTold) return;
  const { name, contact } = theProgramme(app);
  queue(app, {
    to: f.email,
    affiliate: f.id,
    kind: 'practice',
    subject: `${row.name}: our answer is taken back`,
    body: `Hello ${f.name},\n\nwhat we answered about “${row.name}” does not stand any more. ${again ? `What we said before holds again:\n\n${answerInWords(again)}` : 'You hear from us.'}\n\nQuestions: ${contact}\n\n${name}`,
  });
}

/** An answer as it is read: “Cash return: you may. For the members’ page.” */
export const answerInWords = ({
  name,
  allowed,
  words,
}: Pick<Permission, 'name' | 'allowed' | 'words'>): string =>
  `${name}: ${allowed ? 'you may' : 'please do not'}.${words ? ` ${words}` : ''}`;

/**
 * Answers somebody about a practice; an answer that stood ends with it.
 * @throws Problem `conflict` where somebody else answered meanwhile, `invalid` where the practice is unknown
 */
export function answerPractice(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  { practice, allowed, words, application, replaces }: BodyOf<typeof Answer>,
): Shown {
  const f = affiliateById(app, affiliate);
  if (application) checkApplication(app, application, f);
  const before = standing(app, affiliate, practice);
  if ((before?.id ?? null) !== replaces) throw overtaken(app, f.name, before);
  const name = before?.name ?? nameOf(app, practice);
  const now = app.clock.now();
  const id = newId('permission');
  if (before) app.db.update(permissions).set({ endedAt: now }).where(eq(permissions.id, before.id)).run();
  app.db
    .insert(permissions)
    .values({
      ...{ id, affiliate, practice, name, allowed, at: now },
      words: words.trim(),
      by: actor.id,
      application: application ?? null,
      replaced: before?.id ?? null,
    })
    .run();
  const given = byId(app, id);
  record(app, actor, 'practice-answered', {
    subject: affiliate,
    before: before ? told(before) : null,
    after: told(given),
  });
  tell(app, affiliate, given);
  touch(app, 'records');
  return shown(app, [given])[0]!;
}

const yesNo = (allowed: boolean) => (allowed ? 'yes' : 'no');

/** An answer as the audit has it. */
const told = ({ name, allowed, words }: Permission) => ({ practice: name, allowed: yesNo(allowed), words });

function overtaken(app: App, name: string, before: Permission | undefined): Problem {
  const [current = null] = before ? shown(app, [before]) : [];
  return new Problem(
    'stale',
    current
      ? `${current.by} answered ${name} about this meanwhile: ${yesNo(current.allowed)}`
      : 'The answer was taken back meanwhile',
    { current },
  );
}

function byId(app: App, id: Id<'permission'>): Permission {
  const row = app.db.select().from(permissions).where(eq(permissions.id, id)).get();
  if (!row) throw new Problem('not-found', 'This answer does not exist');
  return row;
}

/** Takes an answer back: the one that it took the place of stands again. @throws Problem `conflict` where it stands no more */
export function endPermission(app: App, actor: Actor, id: Id<'permission'>): ReplyOf<typeof End> {
  const row = byId(app, id);
  if (row.endedAt !== null) throw new Problem('conflict', 'This answer does not stand any more');
  app.db.update(permissions).set({ endedAt: app.clock.now() }).where(eq(permissions.id, id)).run();
  if (row.replaced)
    app.db.update(permissions).set({ endedAt: null }).where(eq(permissions.id, row.replaced)).run();
  const again = row.replaced ? byId(app, row.replaced) : null;
  if (!withdraw(app, id)) tellTakenBack(app, row, again);
  record(app, actor, 'practice-answer-taken-back', {
    subject: row.affiliate,
    before: told(row),
    after: null,
  });
  touch(app, 'records');
  return { restored: again ? shown(app, [again])[0]! : null };
}
