import { Type } from '@sinclair/typebox';
import { plannedStates } from '../../core/material/lists';
import { closed, idOf, Moment, nullable, oneOf } from '../shared';

/** A change that is planned for later, or was. */
export const PlannedOut = closed({
  id: idOf('planned'),
  at: Moment,
  field: Type.String(),
  what: Type.String({ description: 'the field, in words' }),
  before: nullable(
    Type.String({ description: 'null for a change that never happened: there was nothing before it' }),
  ),
  after: Type.String(),
  by: Type.String(),
  state: oneOf('State', plannedStates),
  why: nullable(Type.String()),
  /** moment it happened, was undone or dropped */
  ended: nullable(Moment),
});
export type PlannedOut = (typeof PlannedOut)['static'];
