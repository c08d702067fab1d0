import type { BodyOf } from '../../../contract/endpoint';
import type {
  createCreative as Create,
  CreativeOut,
  editCreative as Edit,
} from '../../../contract/equip/creatives';
import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { difference, record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { checkFollows } from '../planned/plan';
import { checked } from './check';
import { addCreative, changeCreative, creativeById, fieldsOf, putAway } from './store';
import { creativeFound } from './subject';
import { showCreative } from './view';

/** Makes a creative. @throws Problem `invalid` with every fault at its field */
export function createCreative(
  app: App,
  actor: Actor,
  { kind, ...input }: BodyOf<typeof Create>,
): CreativeOut {
  const fields = checked(app, kind, input);
  const id = newId('creative');
  addCreative(app, fields, { id, kind, createdAt: app.clock.now(), by: actor.id });
  record(app, actor, 'creative-made', { subject: id, before: null, after: { kind, name: fields.name } });
  return showCreative(app, id);
}

/** Changes a creative. @throws Problem `invalid`; `stale` where somebody changed it meanwhile; `conflict` where what is planned could not follow */
export function editCreative(
  app: App,
  actor: Actor,
  id: Id<'creative'>,
  { version, ...input }: BodyOf<typeof Edit>,
): CreativeOut {
  const row = creativeById(app, id);
  if (row.version !== version) throw stale(app, id, `“${row.name}”`, showCreative(app, id));
  if (row.removedAt !== null)
    throw new Problem('conflict', `“${row.name}” was taken out of the sample book; bring it back first`);
  const fields = checked(app, row.kind, input);
  checkFollows(app, id, creativeFound(app, row), fields);
  const change = difference(fieldsOf(row), fields);
  if (Object.keys(change.after).length === 0) return showCreative(app, id);
  changeCreative(app, row, fields);
  record(app, actor, 'creative-changed', { subject: id, ...change });
  return showCreative(app, id);
}

/** Takes a creative out of the sample book, or brings it back as it was. What its links lead to goes on. */
export function removeCreative(app: App, actor: Actor, id: Id<'creative'>, away: boolean): CreativeOut {
  const row = creativeById(app, id);
  if ((row.removedAt !== null) === away) return showCreative(app, id);
  putAway(app, row, away ? app.clock.now() : null);
  record(app, actor, away ? 'creative-removed' : 'creative-restored', {
    subject: id,
    before: null,
    after: { name: row.name },
  });
  return showCreative(app, id);
}
