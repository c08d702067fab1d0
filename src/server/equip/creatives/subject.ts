import {
  fieldsOfKind,
  fieldWords,
  trimmedCreative,
  type CreativeField,
  type CreativeFields,
} from '../../../core/material/creative';
import { isId } from '../../../core/text/id';
import type { App } from '../../ground/context';
import type { Fields, Found, Subject } from '../planned/subject';
import { faultsOf } from './check';
import { changeCreative, creativeMaybe, fieldsOf, type CreativeRecord } from './store';
import { valueReader } from './values';

/** Fields that were kept of a creative, put over those it has. */
const over = (row: CreativeRecord, fields: Fields): CreativeFields => ({
  ...fieldsOf(row),
  ...(fields as Partial<CreativeFields>),
});

export function creativeFound(app: App, row: CreativeRecord): Found {
  return {
    name: row.name,
    removed: row.removedAt !== null,
    fields: { ...fieldsOf(row) },
    from: row.from,
    until: row.until,
    own: fieldsOfKind[row.kind],
    called: (field) => fieldWords[field as CreativeField] ?? field,
    read: valueReader(app),
    trimmed: (fields) => ({ ...trimmedCreative(row.kind, over(row, fields)) }),
    faults: (fields) => faultsOf(app, row.kind, over(row, fields)),
  };
}

/** Creatives, whose fields can be planned to change. */
export const creativeSubject: Subject = {
  find: (app, id) => {
    const row = isId(id, 'creative') ? creativeMaybe(app, id) : undefined;
    return row ? creativeFound(app, row) : null;
  },
  change: (app, id, changes) => {
    const row = isId(id, 'creative') ? creativeMaybe(app, id) : undefined;
    if (row) changeCreative(app, row, over(row, changes));
  },
  action: 'creative-changed',
};
