import type { CreativeOut } from '../../../contract/equip/creatives';
import { isLetterPlace } from '../../../core/material/letter';
import type { Id } from '../../../core/text/id';
import { readOut } from '../../../core/text/live';
import type { App } from '../../ground/context';
import { namesOf } from '../../registers/access/names';
import { filled, liveValues } from '../../setup/terms/live';
import { audienceNames, namedIn } from '../audience/audience';
import { showPlanned } from '../planned/store';
import { adviceOf } from './check';
import { leadsTo } from './leads';
import { drawingRows } from './list';
import { creativeById, fieldsOf } from './store';
import { creativeFound } from './subject';

/** A creative as its sheet shows it. */
export function showCreative(app: App, id: Id<'creative'>): CreativeOut {
  const row = creativeById(app, id);
  const fields = fieldsOf(row);
  const shown = drawingRows(app, [row])(row);
  return {
    ...fields,
    products: [...fields.products],
    subjects: [...fields.subjects],
    id: row.id,
    kind: row.kind,
    state: shown.state,
    row: shown,
    leads: leadsTo(app, row),
    advice: adviceOf(app, row.kind, fields),
    planned: showPlanned(app, id, creativeFound(app, row)),
    reads: {
      words: filled(app, fields.words),
      around: keepingOwn(app, fields.around),
      code: fields.code,
      body: keepingOwn(app, fields.body),
    },
    named: namedIn(fields.audience, audienceNames(app, [fields.audience])),
    files: { file: shown.file, poster: shown.poster },
    removed: row.removedAt !== null,
    createdAt: row.createdAt,
    by: namesOf(app, [row.by])(row.by),
    version: row.version,
  };
}

/** Rates and prices filled in; what is filled for each reader stays. */
const keepingOwn = (app: App, text: string): string =>
  text.includes('{') ? readOut(text, liveValues(app, null, [text]), isLetterPlace) : text;
