import type { FieldFault } from '../../../contract/explain';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';

export type SubjectId = Id<'creative' | 'coupon'>;

/** Something whose fields can be planned to change: a creative, a coupon. */
export interface Subject {
  /** null where there is none of this id, or it is none of these */
  find: (app: App, id: SubjectId) => Found | null;
  /** changes fields of it, in the transaction of whoever calls */
  change: (app: App, id: SubjectId, changes: Fields) => void;
  /** what an audit entry of a change is called */
  action: string;
}

export type Fields = Record<string, unknown>;

/** One of them as it is now. */
export interface Found {
  name: string;
  removed: boolean;
  fields: Fields;
  from: number | null;
  until: number | null;
  /** the fields that it has */
  own: readonly string[];
  /** a field's name in words */
  called: (field: string) => string;
  /** a value in words */
  read: (field: string, value: unknown) => string;
  /** fields as they would be kept */
  trimmed: (fields: Fields) => Fields;
  /** what is wrong with it, were its fields these */
  faults: (fields: Fields) => FieldFault[];
}
