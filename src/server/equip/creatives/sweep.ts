import { and, isNull, lt, sql } from 'drizzle-orm';
import { millisecondsInDay } from '../../../core/calendar/zone';
import type { App } from '../../ground/context';
import { materialFiles } from '../../ground/tables/creatives';
import { plannedChanges } from '../../ground/tables/planned';

/** Days for which an upload waits for a creative to be saved with it. */
const keptDays = 30;
const inAPiece = 100;

/**
 * Sweeps away what was uploaded and never became part of a creative, nor is planned to. What a creative once had stays, though it has another file
 * now: affiliates show it by its address. @returns how many
 */
export function sweepUploads(app: App): number {
  const before = app.clock.now() - keptDays * millisecondsInDay;
  const isPlanned = sql`EXISTS (SELECT 1 FROM ${plannedChanges} p WHERE p.state = 'coming' AND p.field IN ('file', 'poster') AND json_extract(p.value, '$.is') = ${materialFiles.hash})`;
  const isNeverUsed = and(isNull(materialFiles.usedAt), lt(materialFiles.at, before), sql`NOT ${isPlanned}`);
  const some = app.db
    .select({ hash: materialFiles.hash })
    .from(materialFiles)
    .where(isNeverUsed)
    .limit(inAPiece)
    .all();
  for (const { hash } of some) {
    app.db
      .delete(materialFiles)
      .where(sql`${materialFiles.hash} = ${hash}`)
      .run();
    app.uploads.forget(hash);
  }
  return some.length;
}
