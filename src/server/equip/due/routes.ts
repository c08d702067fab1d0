import { undoPlanned as contract } from '../../../contract/equip/planned';
import { readTimeline as TimelineCall, undoTimeline as UndoCall } from '../../../contract/setup/rate-book';
import { isId } from '../../../core/text/id';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { undoTimeline } from '../../setup/terms/timeline';
import { undoPlanned } from './due';
import { plannedReadings } from './readings';

export function plannedRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract, ({ actor, params }) => undoPlanned(app, actor, params.id));
  serve(site, TimelineCall, ({ query }) => app.reader.say(plannedReadings.timeline, query));
  serve(site, UndoCall, ({ actor, params: { id } }) => {
    if (!isId(id, 'planned')) return undoTimeline(app, actor, id);
    undoPlanned(app, actor, id);
    return { undone: true };
  });
}
