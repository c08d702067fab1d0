import { formatMoment } from '../../../core/calendar/format';
import { contradictions, fieldsAt, type Contradiction, type Planned } from '../../../core/material/planned';
import type { Id } from '../../../core/text/id';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { difference, record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import {
  addPlanned,
  asPlanned,
  comingFor,
  endPlanned,
  plannedById,
  plannedUntil,
  type PlannedRecord,
} from './store';
import type { Fields, Found, Subject, SubjectId } from './subject';

const mostPlanned = 50;

/** The refusal of planned changes that contradict each other: both are named. */
function contradictionFault(app: App, { called, read }: Found, found: Contradiction<Planned>): Problem {
  const { zone } = theProgramme(app);
  const said = ({ at, field, value }: Planned) =>
    `${called(field)} → ${read(field, value)} on ${formatMoment(at, zone)}`;
  const planned = (first: Planned | null) => (first ? `, which is planned: ${said(first)}` : '');
  switch (found.code) {
    case 'same-moment':
      return refuse(
        'at',
        `Two changes of the same field at the same moment: ${said(found.first)}, and ${said(found.second)}`,
      );
    case 'after-end':
      return refuse(
        'at',
        `${said(found.second)} would come after the end on ${formatMoment(found.end, zone)}${planned(found.first)}`,
      );
    case 'end-before-start':
      return refuse(
        found.second.field === 'until' ? 'until' : 'from',
        `${said(found.second)} would put the end before the start${planned(found.first)}`,
      );
  }
}

/** @throws Problem where what is planned could not follow on these dates */
export function checkFollows(
  app: App,
  id: SubjectId,
  found: Found,
  dates: Pick<Found, 'from' | 'until'>,
): void {
  const [first] = contradictions(dates, comingFor(app, id).map(asPlanned));
  if (first) throw contradictionFault(app, found, first);
}

function checkMoment(app: App, id: SubjectId, { name, removed }: Found, at: number): void {
  if (removed) throw new Problem('conflict', `“${name}” was taken away; bring it back first`);
  if (at <= app.clock.now())
    throw refuse(
      'at',
      `Moment: ${formatMoment(at, theProgramme(app).zone)} is past; change it at once instead`,
    );
  if (comingFor(app, id).length >= mostPlanned)
    throw new Problem('conflict', `${mostPlanned} changes are planned for “${name}”: that is the most`);
}

function foundOf(app: App, subject: Subject, id: SubjectId): Found {
  const found = subject.find(app, id);
  if (!found) throw new Problem('not-found', 'What this is planned for does not exist');
  return found;
}

/**
 * Plans changes of fields for a moment. What it will be then is judged like one that is saved now.
 * @throws Problem `invalid` with every fault, or with both of two changes that contradict each other
 */
export function planFor(
  app: App,
  actor: Actor,
  subject: Subject,
  { id, at, changes }: { id: SubjectId; at: number; changes: Fields },
): void {
  const found = foundOf(app, subject, id);
  checkMoment(app, id, found, at);
  const foreign = Object.keys(changes).filter((field) => !found.own.includes(field));
  if (foreign.length)
    throw refuse('changes', `Changes: this has no ${foreign.map((f) => found.called(f)).join(', ')}`);
  const kept = found.trimmed({ ...found.fields, ...changes });
  const rows = Object.keys(changes).map((field) => ({ id: newId('planned'), at, field, value: kept[field] }));
  const all = [...comingFor(app, id).map(asPlanned), ...rows];
  const [contradiction] = contradictions(found, all);
  if (contradiction) throw contradictionFault(app, found, contradiction);
  const faults = found.faults(fieldsAt(found.fields, all, at));
  if (faults.length) throw invalid(faults);
  for (const { value, ...row } of rows) {
    addPlanned(app, {
      ...row,
      subject: id,
      value: { is: value },
      createdAt: app.clock.now(),
      by: actor.id,
    });
    record(app, actor, 'change-planned', { subject: id, before: null, after: { at, [row.field]: value } });
  }
}

/** Undoes a planned change that has not happened. What is planned beside it stays. @throws Problem `conflict` where it has happened */
export function undoPlan(
  app: App,
  actor: Actor,
  subjects: readonly Subject[],
  id: Id<'planned'>,
): { subject: SubjectId } {
  const planned = plannedById(app, id);
  if (!planned) throw new Problem('not-found', 'This planned change does not exist');
  const { subject } = planned;
  if (planned.state === 'done')
    throw new Problem('conflict', 'This change has happened already; change it back by hand');
  if (planned.state !== 'coming') return { subject };
  const found = subjects.map((s) => s.find(app, subject)).find((f) => f !== null);
  if (found) {
    const left = comingFor(app, subject).filter((p) => p.id !== id);
    const [contradiction] = contradictions(found, left.map(asPlanned));
    if (contradiction) throw contradictionFault(app, found, contradiction);
  }
  endPlanned(app, id, { state: 'undone', endedAt: app.clock.now() });
  record(app, actor, 'plan-undone', {
    subject,
    before: { at: planned.at, [planned.field]: planned.value.is },
    after: null,
  });
  return { subject };
}

/** Why changes that were planned cannot happen now: what they need was taken away since. */
function whyNot(found: Found | null, changes: Fields): string | null {
  if (!found || found.removed) return 'it was taken away meanwhile';
  const pointers = new Set(Object.keys(changes).map((field) => `/${field}`));
  const faults = found.faults({ ...found.fields, ...changes });
  return faults.find((fault) => pointers.has(fault.pointer))?.detail ?? null;
}

/** Lets what is planned for one thing and one moment happen together, or drops it with the reason. */
function happen(app: App, subjects: readonly Subject[], together: readonly PlannedRecord[]): void {
  const id = together[0]!.subject;
  const endedAt = app.clock.now();
  const own = subjects.find((s) => s.find(app, id) !== null);
  const found = own?.find(app, id) ?? null;
  const changes: Fields = Object.fromEntries(together.map((p) => [p.field, p.value.is]));
  const why = whyNot(found, changes);
  if (why !== null || !own || !found) {
    for (const planned of together) endPlanned(app, planned.id, { state: 'dropped', endedAt, why });
    record(app, theClock, 'plan-dropped', { subject: id, before: null, after: { ...changes, why } });
    return;
  }
  own.change(app, id, changes);
  for (const planned of together)
    endPlanned(app, planned.id, { state: 'done', endedAt, before: { is: found.fields[planned.field] } });
  record(app, theClock, own.action, { subject: id, ...difference(found.fields, changes) });
}

/** The planned changes that have come due, in turn, some at once. @returns how many happened or were dropped */
export function letHappen(app: App, subjects: readonly Subject[], most = 50): number {
  const due = plannedUntil(app, app.clock.now(), most);
  const moments = new Map<string, PlannedRecord[]>();
  for (const planned of due) {
    const key = `${planned.at} ${planned.subject}`;
    moments.set(key, [...(moments.get(key) ?? []), planned]);
  }
  for (const together of moments.values()) app.transaction(() => happen(app, subjects, together));
  return due.length;
}
