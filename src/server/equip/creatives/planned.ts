import { and, asc, eq, lte } from 'drizzle-orm';
import type { BodyOf } from '../../../contract/endpoint';
import type { CreativeOut } from '../../../contract/equip/creatives';
import type { planChange as Plan } from '../../../contract/equip/planned';
import { formatMoment } from '../../../core/calendar/format';
import {
  fieldsOfKind,
  fieldWords,
  trimmedCreative,
  type CreativeField,
  type CreativeFields,
} from '../../../core/material/creative';
import { contradictions, fieldsAt } from '../../../core/material/planned';
import type { Id } from '../../../core/text/id';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { plannedChanges } from '../../ground/tables/creatives';
import { difference, record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { faultsOf } from './check';
import { contradictionFault } from './contradict';
import {
  changeCreative,
  comingFor,
  creativeById,
  creativeMaybe,
  fieldsOf,
  type CreativeRecord,
  type PlannedRecord,
} from './store';
import { showCreative } from './view';

const mostPlanned = 50;

const asPlanned = (p: PlannedRecord) => ({ id: p.id, at: p.at, field: p.field, value: p.value.is });

/** What of the named fields a kind has no use for. */
function foreignFields(row: CreativeRecord, changes: object): CreativeField[] {
  const own = new Set<string>(fieldsOfKind[row.kind]);
  return (Object.keys(changes) as CreativeField[]).filter((field) => !own.has(field));
}

function checkMoment(app: App, row: CreativeRecord, at: number): void {
  if (row.removedAt !== null)
    throw new Problem('conflict', `“${row.name}” was taken out of the sample book; bring it back first`);
  if (at <= app.clock.now())
    throw refuse(
      'at',
      `Moment: ${formatMoment(at, theProgramme(app).zone)} is past; change it at once instead`,
    );
  if (comingFor(app, row.id).length >= mostPlanned)
    throw new Problem('conflict', `${mostPlanned} changes are planned for “${row.name}”: that is the most`);
}

/**
 * Plans changes of fields for a moment. The creative as it will be then is judged like one that is saved now.
 * @throws Problem `invalid` with every fault, or with both of two changes that contradict each other
 */
export function planChange(
  app: App,
  actor: Actor,
  id: Id<'creative'>,
  { at, changes }: BodyOf<typeof Plan>,
): CreativeOut {
  const row = creativeById(app, id);
  checkMoment(app, row, at);
  const foreign = foreignFields(row, changes);
  if (foreign.length)
    throw refuse('changes', `Changes: this kind has no ${foreign.map((f) => fieldWords[f]).join(', ')}`);
  const coming = comingFor(app, id).map(asPlanned);
  const asKept = trimmedCreative(row.kind, { ...fieldsOf(row), ...(changes as Partial<CreativeFields>) });
  const rows = (Object.keys(changes) as CreativeField[]).map((field) => ({
    id: newId('planned'),
    at,
    field,
    value: asKept[field] as unknown,
  }));
  const all = [...coming, ...rows];
  const [contradiction] = contradictions(row, all);
  if (contradiction) throw contradictionFault(app, contradiction);
  const faults = faultsOf(app, row.kind, fieldsAt(fieldsOf(row), all, at));
  if (faults.length) throw invalid(faults);
  for (const planned of rows) keepPlanned(app, actor, row, planned);
  return showCreative(app, id);
}

function keepPlanned(
  app: App,
  actor: Actor,
  row: CreativeRecord,
  { id, at, field, value }: { id: Id<'planned'>; at: number; field: string; value: unknown },
): void {
  app.db
    .insert(plannedChanges)
    .values({
      id,
      subject: row.id,
      at,
      field,
      value: { is: value },
      createdAt: app.clock.now(),
      by: actor.id,
    })
    .run();
  record(app, actor, 'change-planned', { subject: row.id, before: null, after: { at, [field]: value } });
}

function end(app: App, id: Id<'planned'>, fields: Partial<PlannedRecord>): void {
  app.db
    .update(plannedChanges)
    .set({ ...fields, endedAt: app.clock.now() })
    .where(eq(plannedChanges.id, id))
    .run();
}

/** Undoes a planned change that has not happened. What is planned beside it stays. @throws Problem `conflict` where it has happened */
export function undoPlanned(app: App, actor: Actor, id: Id<'planned'>): CreativeOut {
  const planned = app.db.select().from(plannedChanges).where(eq(plannedChanges.id, id)).get();
  if (!planned) throw new Problem('not-found', 'This planned change does not exist');
  if (planned.state === 'done')
    throw new Problem('conflict', 'This change has happened already; change it back by hand');
  if (planned.state === 'coming') {
    const row = creativeById(app, planned.subject);
    const left = comingFor(app, row.id).filter((p) => p.id !== id);
    const [contradiction] = contradictions(row, left.map(asPlanned));
    if (contradiction) throw contradictionFault(app, contradiction);
    end(app, id, { state: 'undone' });
    record(app, actor, 'plan-undone', {
      subject: row.id,
      before: { at: planned.at, [planned.field]: planned.value.is },
      after: null,
    });
  }
  return showCreative(app, planned.subject);
}

/** Why changes that were planned cannot happen now: what they need was taken away since. */
function whyNot(app: App, row: CreativeRecord | undefined, changes: Partial<CreativeFields>): string | null {
  if (!row || row.removedAt !== null) return 'the creative was taken out of the sample book';
  const pointers = new Set(Object.keys(changes).map((field) => `/${field}`));
  const faults = faultsOf(app, row.kind, { ...fieldsOf(row), ...changes });
  return faults.find((fault) => pointers.has(fault.pointer))?.detail ?? null;
}

/** Lets what is planned for one creative and one moment happen together, or drops it with the reason. */
function happen(app: App, together: readonly PlannedRecord[]): void {
  const { subject } = together[0]!;
  const row = creativeMaybe(app, subject);
  const changes: Partial<CreativeFields> = Object.fromEntries(together.map((p) => [p.field, p.value.is]));
  const why = whyNot(app, row, changes);
  if (why !== null || !row) {
    for (const { id } of together) end(app, id, { state: 'dropped', why });
    record(app, theClock, 'plan-dropped', { subject, before: null, after: { ...changes, why } });
    return;
  }
  const fields = fieldsOf(row);
  changeCreative(app, row, { ...fields, ...changes });
  for (const { id, field } of together)
    end(app, id, { state: 'done', before: { is: fields[field as CreativeField] } });
  record(app, theClock, 'creative-changed', { subject, ...difference(fields, changes) });
}

/** The planned changes that have come due, in turn, some at once. @returns how many happened or were dropped */
export function applyPlanned(app: App, most = 50): number {
  const due = app.db
    .select()
    .from(plannedChanges)
    .where(and(eq(plannedChanges.state, 'coming'), lte(plannedChanges.at, app.clock.now())))
    .orderBy(asc(plannedChanges.at), asc(plannedChanges.subject), asc(plannedChanges.id))
    .limit(most)
    .all();
  const moments = new Map<string, PlannedRecord[]>();
  for (const planned of due) {
    const key = `${planned.at} ${planned.subject}`;
    moments.set(key, [...(moments.get(key) ?? []), planned]);
  }
  for (const together of moments.values()) app.transaction(() => happen(app, together));
  return due.length;
}
