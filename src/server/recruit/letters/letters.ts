import { timingSafeEqual } from 'node:crypto';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  listTemplates as ListTemplates,
  previewMessage as Preview,
  saveTemplate as SaveTemplate,
  sendMessage as Send,
} from '../../../contract/recruit/letters';
import { isId, type Id } from '../../../core/text/id';
import { fillIn } from '../../../core/text/live';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { templates } from '../../ground/tables/letters';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { queue } from '../../registers/outbox/queue';
import { noteOfAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { liveValues } from '../../setup/terms/live';
import { whom } from '../roster/bulk';

type Input = BodyOf<typeof Send>;
type Affiliate = typeof affiliates.$inferSelect;

/** Words that a message can ask for beside rates and prices. */
const own = (app: App, a: Pick<Affiliate, 'name' | 'handle'>) => ({
  name: a.name,
  handle: a.handle,
  programme: theProgramme(app).name,
  portal: `${app.address}/portal`,
  join: `${app.address}/join?by=${a.handle}`,
});

const markOf = (app: App, id: string) => app.seal.digest(`letters ${id}`).slice(0, 40);

/** How a message reads for one: its words filled in, and at the foot of a letter the way to get no more. */
function written(
  app: App,
  input: Pick<Input, 'subject' | 'body' | 'kind'>,
  a: Affiliate,
): { subject: string; body: string } {
  // rates are the reader's own: what is said is what an order would pay this one
  const filled = { ...liveValues(app, { affiliate: a.id }, [input.subject, input.body]), ...own(app, a) };
  const foot =
    input.kind === 'letter'
      ? `\n\n—\nYou get this as an affiliate of ${theProgramme(app).name}. No more letters: ${app.address}/letters/${a.id}.${markOf(app, a.id)}`
      : '';
  return { subject: fillIn(input.subject, filled).text, body: fillIn(input.body, filled).text + foot };
}

/** Who gets it, and who does not and why. What is written for members is not sent to those who have not joined. */
function sort(
  app: App,
  input: Pick<Input, 'ids' | 'filter' | 'kind'>,
): { to: Affiliate[]; out: Map<string, number> } {
  const out = new Map<string, number>();
  const to = whom(app, input).filter((a) => {
    const why =
      a.joinedAt === null
        ? 'have not joined'
        : a.state === 'blocked'
          ? 'are blocked'
          : input.kind === 'letter' && !a.newsletters
            ? 'want no letters'
            : input.kind === 'letter' && a.state === 'ended'
              ? 'have left'
              : null;
    if (why) out.set(why, (out.get(why) ?? 0) + 1);
    return why === null;
  });
  return { to, out };
}

function check(app: App, input: Pick<Input, 'subject' | 'body'>): void {
  const values = liveValues(app);
  const known = { ...values, ...own(app, { name: '', handle: '' }) };
  for (const field of ['subject', 'body'] as const) {
    const { unknown } = fillIn(input[field], known);
    if (unknown.length)
      throw refuse(
        field,
        `${unknown.join(', ')} cannot be filled in: known are {name}, {handle}, {programme}, {portal}, {join}, and the rate or price of a product by its code`,
        '{rate WHEEL-1}',
      );
  }
}

export function previewMessage(app: App, input: BodyOf<typeof Preview>): ReplyOf<typeof Preview> {
  check(app, input);
  const { to, out } = sort(app, input);
  const shown = to.find((a) => a.id === input.for) ?? to[0];
  return {
    count: to.length,
    leftOut: [...out].map(([why, count]) => ({ why, count })),
    sample: shown ? { id: shown.id, name: shown.name, to: shown.email, ...written(app, input, shown) } : null,
    some: to.slice(0, 50).map((a) => ({ id: a.id, name: a.name })),
  };
}

/** Puts a message to each into the outbox. */
export function sendMessage(app: App, actor: Actor, input: Input): ReplyOf<typeof Send> {
  check(app, input);
  const { to, out } = sort(app, input);
  if (!to.length) throw new Problem('conflict', 'Nobody would get this message');
  for (const a of to)
    queue(app, { to: a.email, affiliate: a.id, kind: input.kind, ...written(app, input, a) });
  record(app, actor, 'message-sent', {
    subject: to.length === 1 ? to[0]!.id : 'programme',
    before: null,
    after: {
      subject: input.subject,
      kind: input.kind,
      count: to.length,
    },
  });
  return { queued: to.length, leftOut: [...out.values()].reduce((s, n) => s + n, 0) };
}

const shown = (t: typeof templates.$inferSelect) => ({
  id: t.id,
  use: t.use,
  name: t.name,
  subject: t.subject,
  body: t.body,
  version: t.version,
});

export function listTemplates(app: App): ReplyOf<typeof ListTemplates> {
  return {
    rows: app.db
      .select()
      .from(templates)
      .where(isNull(templates.removedAt))
      .orderBy(asc(templates.name))
      .all()
      .map(shown),
  };
}

export function saveTemplate(app: App, actor: Actor, input: BodyOf<typeof SaveTemplate>) {
  const name = input.name.trim();
  const same = app.db
    .select()
    .from(templates)
    .where(and(isNull(templates.removedAt), eq(templates.use, input.use)))
    .all()
    .find((t) => t.name.toLowerCase() === name.toLowerCase());
  // never without a word over what somebody else keeps by that name
  if (same && same.version !== input.replaces) throw stale(app, same.id, `“${same.name}”`, shown(same));
  const id = same?.id ?? newId('template');
  if (same)
    app.db
      .update(templates)
      .set({ name, subject: input.subject, body: input.body, version: same.version + 1 })
      .where(eq(templates.id, id))
      .run();
  else
    app.db
      .insert(templates)
      .values({
        id,
        use: input.use,
        name,
        subject: input.subject,
        body: input.body,
        by: actor.id,
        createdAt: app.clock.now(),
      })
      .run();
  record(app, actor, same ? 'template-changed' : 'template-kept', {
    subject: id,
    before: null,
    after: { name },
  });
  return shown(app.db.select().from(templates).where(eq(templates.id, id)).get()!);
}

export function removeTemplate(app: App, actor: Actor, id: Id<'template'>): null {
  const row = app.db.select().from(templates).where(eq(templates.id, id)).get();
  if (!row) throw new Problem('not-found', 'This template does not exist');
  app.db.update(templates).set({ removedAt: app.clock.now() }).where(eq(templates.id, id)).run();
  record(app, actor, 'template-removed', { subject: id, before: { name: row.name }, after: null });
  return null;
}

function byToken(app: App, token: string): Affiliate {
  const [, id = '', mark = ''] = /^(aff_[0-9a-z]{4,40})\.([0-9a-f]{40})$/.exec(token) ?? [];
  const row =
    isId(id, 'affiliate') && timingSafeEqual(Buffer.from(markOf(app, id)), Buffer.from(mark))
      ? app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()
      : undefined;
  if (!row) throw new Problem('not-found', 'This link leads to nobody; it may have been copied incompletely');
  return row;
}

const choice = (app: App, a: Affiliate) => ({
  programme: theProgramme(app).name,
  name: a.name,
  on: a.newsletters,
});

export function readLetters(app: App, token: string) {
  return choice(app, byToken(app, token));
}

export function chooseLetters(app: App, actor: Actor, affiliate: Affiliate | string, on: boolean) {
  const row = typeof affiliate === 'string' ? byToken(app, affiliate) : affiliate;
  if (row.newsletters !== on) {
    noteOfAffiliate(app, row.id, { newsletters: on });
    record(app, actor, on ? 'letters-wanted' : 'letters-refused', {
      subject: row.id,
      before: null,
      after: { affiliate: row.id },
    });
  }
  return choice(app, { ...row, newsletters: on });
}
