import { and, desc, eq, inArray, lte } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  inviteProspects as Invite,
  previewInvite as Preview,
} from '../../../contract/recruit/prospects';
import { formatAge } from '../../../core/calendar/format';
import { dayOf, millisecondsInDay } from '../../../core/calendar/zone';
import { hostOf } from '../../../core/recruiting/prospects';
import type { Id } from '../../../core/text/id';
import { fillIn } from '../../../core/text/live';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { RegistryRefusal } from '../../ground/ports';
import { products } from '../../ground/tables/catalogue';
import { invites, prospects, prospectTags } from '../../ground/tables/prospects';
import { record } from '../../registers/access/audit';
import { registryOf, theProgramme } from '../../registers/programme/record';
import { liveValues } from '../../setup/terms/live';
import { setsInUse } from '../../setup/terms/store';
import { asksLeft } from '../allowance/allowance';
import { memberAtHost } from './copy';
import { showInvites } from './service';

type Input = BodyOf<typeof Invite>;
type Line = ReplyOf<typeof Preview>['lines'][number];

/** Days in which a second invitation asks first. */
const askWithin = 30;

type Sent = Pick<typeof invites.$inferSelect, 'state' | 'at'>;

/** States of an invitation that can still be answered. */
const openInvites: ReadonlySet<string> = new Set(['waiting', 'sent', 'opened']);

const isRecent = ({ state, at }: Sent, now: number) =>
  state !== 'withdrawn' && at > now - askWithin * millisecondsInDay;

function sinceThen({ state }: Sent): string {
  if (openInvites.has(state)) return 'has not answered yet';
  return state === 'expired' ? 'did not answer' : state;
}

function judge(app: App, input: Input): Line[] {
  const now = app.clock.now();
  let left = asksLeft(app);
  return [...new Set(input.ids)].map((id): Line => {
    const p = app.db.select().from(prospects).where(eq(prospects.id, id)).get();
    if (!p) return { id, name: id, outcome: 'unknown', said: 'not in our copy of the registry' };
    const line = (outcome: Line['outcome'], said: string): Line => ({ id, name: p.name, outcome, said });
    // who joined a second ago is seen at its sites, also before our copy says so
    if (p.state === 'joined' || p.sites.map(hostOf).some((h) => h !== null && memberAtHost(app, h)))
      return line('joined', 'is an affiliate already');
    const last = app.db
      .select()
      .from(invites)
      .where(eq(invites.prospect, id))
      .orderBy(desc(invites.at), desc(invites.id))
      .limit(1)
      .get();
    if (last && !input.again && isRecent(last, now)) {
      const open = openInvites.has(last.state);
      return line(
        open ? 'open' : 'recent',
        `was invited ${formatAge(last.at, now)} ago and ${sinceThen(last)}`,
      );
    }
    if (left === 0) return line('over', 'the messages of today to people who have not joined are used up');
    left -= 1;
    return line('invited', last ? 'is invited again' : 'is invited');
  });
}

function check(app: App, input: Input): void {
  const sets = new Map(setsInUse(app).map((s) => [s.id, s.of]));
  if (input.card && sets.get(input.card) !== 'card')
    throw refuse('card', 'Rate card: it does not exist any more');
  if (input.group && sets.get(input.group) !== 'group')
    throw refuse('group', 'Group: it does not exist any more');
  if (input.tags?.some((t) => sets.get(t) !== 'tag'))
    throw refuse('tags', 'Tags: one of them does not exist any more');
  const product = input.product
    ? app.db.select().from(products).where(eq(products.id, input.product)).get()
    : null;
  if (input.product && (!product || product.state !== 'live'))
    throw refuse('product', 'Product: it is not live');
  const { unknown } = fillIn(input.message, valuesFor(app, { id: '', name: '' }, input));
  if (unknown.length)
    throw refuse(
      'message',
      `${unknown.join(', ')} cannot be filled in: known are {name}, {programme}, {join}, and the rate or price of a product by its code`,
      '{rate WHEEL-1}',
    );
}

/** Tags that were given to a partner in our copy of the registry: it has them from joining on. */
const tagsOf = (app: App, id: string): Id<'set'>[] =>
  app.db
    .select({ tag: prospectTags.tag })
    .from(prospectTags)
    .innerJoin(prospects, eq(prospects.n, prospectTags.prospect))
    .where(eq(prospects.id, id))
    .all()
    .map((t) => t.tag);

/** What stands for the words of an invitation: rates as the partner would have them on joining, with the tags it has and what it is promised. */
const valuesFor = (app: App, { id, name }: Pick<Line, 'id' | 'name'>, input: Input) => ({
  ...liveValues(
    app,
    { card: input.card, group: input.group, tags: [...tagsOf(app, id), ...(input.tags ?? [])] },
    [input.message],
  ),
  name,
  programme: theProgramme(app).name,
  join: `${app.address}/join`,
});

export function previewInvite(app: App, input: Input): ReplyOf<typeof Preview> {
  check(app, input);
  const lines = judge(app, input);
  const first = lines.find((l) => l.outcome === 'invited') ?? lines[0];
  return {
    lines,
    sample: first ? fillIn(input.message, valuesFor(app, first, input)).text : null,
    left: asksLeft(app),
  };
}

/** Invites partners: each stands in our outbox until the registry has taken it. */
export function inviteProspects(app: App, actor: Actor, input: Input): ReplyOf<typeof Invite> {
  check(app, input);
  if (!registryOf(app))
    throw new Problem(
      'unavailable',
      'No registry is connected, so nobody can be invited through it; the join address can be sent by any other way',
    );
  const lines = judge(app, input);
  const now = app.clock.now();
  const { zone, inviteDays } = theProgramme(app);
  for (const line of lines.filter((l) => l.outcome === 'invited')) {
    const id = newId('invite');
    app.db
      .update(invites)
      .set({ state: 'withdrawn', stateAt: now })
      .where(and(eq(invites.prospect, line.id), eq(invites.state, 'waiting')))
      .run();
    app.db
      .insert(invites)
      .values({
        id,
        prospect: line.id,
        at: now,
        day: dayOf(now, zone),
        by: actor.id,
        message: fillIn(input.message, valuesFor(app, line, input)).text,
        card: input.card ?? null,
        group: input.group ?? null,
        tags: [...new Set(input.tags ?? [])],
        product: input.product ?? null,
        state: 'waiting',
        stateAt: now,
        expiresAt: now + inviteDays * millisecondsInDay,
      })
      .run();
    app.db
      .update(prospects)
      .set({ state: 'invited' })
      .where(and(eq(prospects.id, line.id), eq(prospects.state, 'never')))
      .run();
    record(app, actor, 'prospect-invited', {
      subject: id,
      before: null,
      after: { partner: line.id, name: line.name },
    });
  }
  return { lines, invited: lines.filter((l) => l.outcome === 'invited').length };
}

export function withdrawInvite(app: App, actor: Actor, id: Id<'invite'>) {
  const row = app.db.select().from(invites).where(eq(invites.id, id)).get();
  if (!row) throw new Problem('not-found', 'This invitation does not exist');
  if (row.state !== 'waiting')
    throw new Problem('conflict', `The registry has this invitation already; it is ${row.state}`);
  app.db
    .update(invites)
    .set({ state: 'withdrawn', stateAt: app.clock.now() })
    .where(eq(invites.id, id))
    .run();
  settle(app, row.prospect);
  record(app, actor, 'invite-withdrawn', {
    subject: id,
    before: { state: row.state },
    after: { state: 'withdrawn' },
  });
  return showInvites(app, [app.db.select().from(invites).where(eq(invites.id, id)).get()!])[0]!;
}

/** A prospect nothing of whose invitations is left counts as never invited. */
function settle(app: App, prospect: string): void {
  const left = app.db
    .select({ state: invites.state })
    .from(invites)
    .where(eq(invites.prospect, prospect))
    .all()
    .some((i) => i.state !== 'withdrawn');
  if (!left)
    app.db
      .update(prospects)
      .set({ state: 'never' })
      .where(and(eq(prospects.id, prospect), eq(prospects.state, 'invited')))
      .run();
}

/** Hands waiting invitations to the registry; what it cannot take now is tried again. @returns how many it took */
export async function sendInvites(app: App, most = 100): Promise<number> {
  const port = registryOf(app);
  if (!port) return 0;
  const rows = app.db
    .select()
    .from(invites)
    .where(eq(invites.state, 'waiting'))
    .orderBy(invites.at, invites.id)
    .limit(most)
    .all();
  let sent = 0;
  for (const row of rows) {
    try {
      await port.invite({
        id: row.id,
        partner: row.prospect,
        programme: theProgramme(app).name,
        message: row.message,
        at: row.at,
        until: row.expiresAt,
      });
      // withdrawn meanwhile: the registry has it all the same, so it counts as sent
      app.db
        .update(invites)
        .set({ state: 'sent', stateAt: app.clock.now(), fault: null })
        .where(and(eq(invites.id, row.id), inArray(invites.state, ['waiting', 'withdrawn'])))
        .run();
      sent += 1;
    } catch (fault) {
      if (fault instanceof RegistryRefusal) {
        app.db
          .update(invites)
          .set({ state: 'withdrawn', stateAt: app.clock.now(), fault: fault.message.slice(0, 200) })
          .where(eq(invites.id, row.id))
          .run();
        settle(app, row.prospect);
        continue;
      }
      // said of all that wait: the first that cannot be handed over holds up the rest
      app.db
        .update(invites)
        .set({ fault: fault instanceof Error ? fault.message.slice(0, 200) : 'refused' })
        .where(eq(invites.state, 'waiting'))
        .run();
      break;
    }
  }
  return sent;
}

/** Invitations whose time is over, also where the registry has not said so. */
export function expireInvites(app: App): number {
  const now = app.clock.now();
  const rows = app.db
    .select({ id: invites.id, at: invites.expiresAt })
    .from(invites)
    .where(and(inArray(invites.state, ['waiting', 'sent', 'opened']), lte(invites.expiresAt, now)))
    .all();
  for (const row of rows) {
    app.db.update(invites).set({ state: 'expired', stateAt: row.at }).where(eq(invites.id, row.id)).run();
    record(app, theClock, 'invite-expired', { subject: row.id, before: null, after: { state: 'expired' } });
  }
  return rows.length;
}
