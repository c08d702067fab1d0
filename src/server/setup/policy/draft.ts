import { eq } from 'drizzle-orm';
import { type BodyOf, type ReplyOf } from '../../../contract/endpoint';
import { type editPolicy as Edit, type readPolicy as Read } from '../../../contract/setup/policy';
import { partnerKindList } from '../../../core/recruiting/kinds';
import { emptyPolicy, faultsOfPolicy, type PolicyContent } from '../../../core/recruiting/policy';
import type { Id } from '../../../core/text/id';
import { fillIn } from '../../../core/text/live';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { policies } from '../../ground/tables/policy';
import { difference, record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { liveValues } from '../terms/live';
import { draftOf, latest } from './versions';
import { byId, policyShown } from './view';

/** Begins the next version from the last, or goes on with the draft there is. */
export function draftPolicy(app: App, actor: Actor): ReplyOf<typeof Read> {
  const open = draftOf(app);
  if (open) return policyShown(app, open);
  const last = latest(app);
  const { noticeWeeks, kindsWanted, kindsUnwanted } = theProgramme(app);
  const id = newId('policy');
  app.db
    .insert(policies)
    .values({
      id,
      number: (last?.number ?? 0) + 1,
      state: 'draft',
      content: last?.content ?? {
        ...emptyPolicy,
        noticeWeeks,
        accepted: kindsWanted,
        refused: kindsUnwanted,
      },
      createdAt: app.clock.now(),
      by: actor.id,
    })
    .run();
  record(app, actor, 'policy-drafted', {
    subject: id,
    before: null,
    after: { number: (last?.number ?? 0) + 1 },
  });
  return policyShown(app, byId(app, id));
}

const texts = ['general', 'search', 'counts', 'declined', 'branding', 'kinds', 'channels'] as const;

export function refuseFaulty(app: App, content: PolicyContent): void {
  const values = liveValues(app);
  for (const field of texts) {
    const { unknown } = fillIn(content[field], values);
    if (unknown.length)
      throw refuse(
        field,
        `${unknown.join(', ')} cannot be filled in: known are the rate or price of a product by its code, {rate} and {window}`,
        '{rate WHEEL-1}',
      );
  }
  for (const field of ['accepted', 'refused'] as const) {
    const strange = content[field].filter((k) => !(partnerKindList as string[]).includes(k));
    if (strange.length)
      throw refuse(field, `Kinds: ${strange.join(', ').slice(0, 60)} is not in the list`, partnerKindList[0]);
  }
  const faults = faultsOfPolicy(content);
  if (faults.length)
    throw invalid(faults.map((f) => ({ pointer: `/${f.field}`, detail: f.detail, example: f.example })));
}

export function editPolicy(
  app: App,
  actor: Actor,
  id: Id<'policy'>,
  { version, ...content }: BodyOf<typeof Edit>,
): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  if (row.state !== 'draft')
    throw new Problem(
      'conflict',
      `Version ${row.number} is published and stays as it is; draft the next one`,
    );
  refuseFaulty(app, content);
  const change = difference(row.content, content);
  app.db
    .update(policies)
    .set({ content, version: row.version + 1 })
    .where(eq(policies.id, id))
    .run();
  if (Object.keys(change.after).length)
    record(app, actor, 'policy-edited', {
      subject: id,
      before: null,
      after: {
        number: row.number,
        fields: Object.keys(change.after).join(', '),
      },
    });
  return policyShown(app, byId(app, id));
}

export function dropPolicy(app: App, actor: Actor, id: Id<'policy'>): null {
  const row = byId(app, id);
  if (row.state !== 'draft')
    throw new Problem('conflict', `Version ${row.number} is published and cannot be thrown away`);
  app.db.delete(policies).where(eq(policies.id, id)).run();
  record(app, actor, 'policy-draft-dropped', { subject: id, before: { number: row.number }, after: null });
  return null;
}
