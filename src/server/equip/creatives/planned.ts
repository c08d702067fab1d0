import type { BodyOf } from '../../../contract/endpoint';
import type { CreativeOut } from '../../../contract/equip/creatives';
import type { planChange as Plan } from '../../../contract/equip/planned';
import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { planFor } from '../planned/plan';
import { creativeSubject } from './subject';
import { showCreative } from './view';

/** Plans changes of a creative's fields. @throws Problem `invalid` with every fault, or with both of two that contradict each other */
export function planChange(
  app: App,
  actor: Actor,
  id: Id<'creative'>,
  { at, changes }: BodyOf<typeof Plan>,
): CreativeOut {
  planFor(app, actor, creativeSubject, { id, at, changes });
  return showCreative(app, id);
}
