import { eq } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { publishPolicy as Publish, readPolicy as Read } from '../../../contract/setup/policy';
import { carriedOver, gapsOf, isEmptyPolicy, type PracticesPolicy } from '../../../core/recruiting/policy';
import { nothingDiffers, policyChanges } from '../../../core/recruiting/policy-changes';
import { holdsFrom } from '../../../core/recruiting/policy-notice';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { policies } from '../../ground/tables/policy';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { refuseFaulty } from './draft';
import { staffReader } from './readers';
import { tellSome } from './tell';
import { announced, latest, type PolicyRecord } from './versions';
import { byId, policyShown } from './view';

/** @throws Problem `conflict` where it cannot be published, `invalid` where something is empty that nobody has seen to be so */
function checkDraft(app: App, row: PolicyRecord, content: PracticesPolicy, seen: readonly string[]): void {
  if (row.state !== 'draft') throw new Problem('conflict', `Version ${row.number} is published already`);
  refuseFaulty(app, content);
  const last = latest(app);
  if (last && nothingDiffers(policyChanges(last.content, content, staffReader(app))))
    throw new Problem(
      'conflict',
      `Nothing differs from version ${last.number}, so there is nothing to announce`,
    );
  if (isEmptyPolicy(content))
    throw refuse('general', 'Everything is empty: say what taking part means', 'Cash return: not here');
  const unseen = gapsOf(content).filter((gap) => !seen.includes(gap.key));
  if (unseen.length)
    throw invalid(
      unseen.map((gap) => ({
        pointer: '/empty',
        detail: `“${gap.name}” is empty: fill it in, or say that it is to stay so`,
        example: gap.key,
      })),
    );
}

/**
 * Publishes the draft, and tells everybody who promotes and is with us what changes and from when (`holdsFrom` in core). Whoever applies from now on ticks
 * it, which counts once the person is known.
 * @param seen keys of what is empty and is to stay so
 */
export function publishPolicy(
  app: App,
  actor: Actor,
  id: Id<'policy'>,
  { version, empty: seen }: BodyOf<typeof Publish>,
): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  const content = carriedOver(row.content);
  checkDraft(app, row, content, seen);
  const now = app.clock.now();
  const from = holdsFrom(announced(app), now, theProgramme(app).zone);
  app.db
    .update(policies)
    .set({
      state: 'published',
      content,
      publishedAt: now,
      holdsFrom: from,
      toldTo: '',
      by: actor.id,
      version: row.version + 1,
    })
    .where(eq(policies.id, id))
    .run();
  changeProgramme(app, { kindsWanted: content.accepted, kindsUnwanted: content.refused });
  record(app, actor, 'policy-published', {
    subject: id,
    before: null,
    after: { number: row.number, from },
  });
  tellSome(app);
  touch(app, 'records');
  return policyShown(app, byId(app, id));
}
