import { eq } from 'drizzle-orm';
import { type RehearsalOut } from '../../../contract/setup/rate-book';
import { type Change } from '../../../core/terms/draft';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { drafts, type rehearsals } from '../../ground/tables/terms';

/** What is kept of a rehearsal: its result in words, and the changes it was run under. */
export interface Kept {
  result: Result;
  changes: Change[];
}

interface Running {
  done: number;
  total: number;
  cancel: () => void;
}

export const running = perApp(() => new Map<string, Running>());

export const mostListed = 200;

export function showRehearsal(app: App, row: RehearsalRecord): RehearsalOut {
  const now = running(app).get(row.id);
  const draft = app.db
    .select({ version: drafts.version, state: drafts.state })
    .from(drafts)
    .where(eq(drafts.id, row.draft))
    .get();
  // what was running when the server stopped is running nowhere now
  const state = row.state === 'running' && !now ? 'failed' : row.state;
  return {
    id: row.id,
    draft: row.draft,
    outdated: draft?.state === 'open' && draft.version !== row.draftVersion,
    at: row.at,
    from: row.from,
    to: row.to,
    state,
    done: now?.done ?? row.done,
    total: now?.total ?? row.total,
    tookMs: row.tookMs,
    result: state === 'done' ? (row.result as Kept).result : null,
  };
}

export type RehearsalRecord = typeof rehearsals.$inferSelect;

export type Result = NonNullable<RehearsalOut['result']>;
