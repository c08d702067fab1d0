import { eq } from 'drizzle-orm';
import { type BodyOf, type ReplyOf } from '../../../contract/endpoint';
import type { FieldFault } from '../../../contract/explain';
import { type editPolicy as Edit, type readPolicy as Read } from '../../../contract/setup/policy';
import { partnerKindList } from '../../../core/recruiting/kinds';
import {
  carriedOver,
  emptyPolicy,
  faultsOfPolicy,
  type PracticesPolicy,
} from '../../../core/recruiting/policy';
import { isId, type Id } from '../../../core/text/id';
import { fillIn, wordsAlone } from '../../../core/text/live';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem } from '../../ground/http/problem';
import { policies } from '../../ground/tables/policy';
import { difference, record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { liveValues } from '../terms/live';
import { groupsInUse } from './readers';
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
      content: (last && carriedOver(last.content)) ?? {
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

/** Every text of a policy with the field it stands in. */
function textsOf(content: PracticesPolicy): [field: string, text: string][] {
  const { counts, declined, channels, branding, owed, general } = content;
  return [
    ...Object.entries({ counts, declined, channels, branding, owed, general }),
    ...content.practices.flatMap(({ says, exceptions }, i): [string, string][] => [
      [`practices/${i}/says`, says],
      ...exceptions.map((e, n): [string, string] => [`practices/${i}/exceptions/${n}/says`, e.says]),
    ]),
  ];
}

function unfillable(app: App, content: PracticesPolicy): FieldFault[] {
  const values = liveValues(app);
  return textsOf(content).flatMap(([field, text]) => {
    const { unknown } = fillIn(text, values);
    if (!unknown.length) return [];
    const known = wordsAlone.map((word) => `{${word}}`).join(', ');
    const detail = `${unknown.join(', ')} cannot be filled in: known are ${known}, and the rate or price of a product by its code`;
    return [{ pointer: `/${field}`, detail, example: '{rate WHEEL-1}' }];
  });
}

function strangeKinds(content: PracticesPolicy): FieldFault[] {
  return (['accepted', 'refused'] as const).flatMap((field) => {
    const strange = content[field].filter((k) => !(partnerKindList as string[]).includes(k));
    if (!strange.length) return [];
    const detail = `Kinds: ${strange.join(', ').slice(0, 60)} is not in the list`;
    return [{ pointer: `/${field}`, detail, example: partnerKindList[0]! }];
  });
}

/** Answers for groups that are gone, or that are no groups. */
function strangeGroups(app: App, { practices }: PracticesPolicy): FieldFault[] {
  const groups = new Set<string>(groupsInUse(app).map((g) => g.id));
  return practices.flatMap(({ name, exceptions }, i) =>
    exceptions.flatMap(({ who }, n) =>
      isId(who, 'set') && !groups.has(who)
        ? [
            {
              pointer: `/practices/${i}/exceptions/${n}/who`,
              detail: `“${name}” is answered for a group that does not exist any more; choose another or remove the answer`,
              example: 'a group of the rate book',
            },
          ]
        : [],
    ),
  );
}

/** @throws Problem `invalid` with all that cannot stand in a policy, each at its field */
export function refuseFaulty(app: App, content: PracticesPolicy): void {
  const faults = [
    ...unfillable(app, content),
    ...strangeKinds(content),
    ...strangeGroups(app, content),
    ...faultsOfPolicy(content).map((f) => ({ pointer: `/${f.field}`, detail: f.detail, example: f.example })),
  ];
  if (faults.length) throw invalid(faults);
}

/** Names and phrases without what surrounds them; empty phrases are none. */
const trimmed = (content: PracticesPolicy): PracticesPolicy => ({
  ...content,
  practices: content.practices.map((p) => ({
    ...p,
    name: p.name.trim(),
    words: [...new Set(p.words.map((w) => w.trim()).filter(Boolean))],
    says: p.says.trim(),
    exceptions: p.exceptions.map((e) => ({ ...e, says: e.says.trim() })),
  })),
});

export function editPolicy(
  app: App,
  actor: Actor,
  id: Id<'policy'>,
  { version, ...typed }: BodyOf<typeof Edit>,
): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  if (row.state !== 'draft')
    throw new Problem(
      'conflict',
      `Version ${row.number} is published and stays as it is; draft the next one`,
    );
  const content = trimmed(typed);
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
