import { and, isNull, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import { cached } from '../../ground/cache';
import type { App } from '../../ground/context';
import { creatives } from '../../ground/tables/creatives';
import { contradictionsOf } from './contradict';
import { isInState } from './states';

interface Contradicting {
  id: Id<'creative'>;
  name: string;
}

/** All words are read for it: what was found counts until something changes, or states may have changed with the time. */
const readFor = 60_000;
const lastRead = cached('records', (): { at: number; found: Contradicting[] } => ({
  at: -Infinity,
  found: [],
}));

/** Creatives that are on and contradict the terms: what Today counts is what the list shows. */
export function contradictingNow(app: App): readonly Contradicting[] {
  const last = lastRead(app);
  const now = app.clock.now();
  if (Math.abs(now - last.at) > readFor) Object.assign(last, { at: now, found: readContradicting(app) });
  return last.found;
}

function readContradicting(app: App): Contradicting[] {
  const contradicts = contradictionsOf(app);
  const { id, name, products, texts, until } = creatives;
  return app.db
    .select({ id, name, products, texts, until })
    .from(creatives)
    .where(and(isNull(creatives.removedAt), isInState(app, 'on'), sql`${creatives.kind} <> 'video'`))
    .all()
    .filter((row) => contradicts(row).length > 0)
    .map((row) => ({ id: row.id, name: row.name }));
}
