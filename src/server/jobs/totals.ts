import type { App } from '../ground/context';
import { rebuildTotals, totalTables } from '../totals/checks';
import { totalReadings } from '../totals/readings';

/**
 * Compares every total with its rows, in a thread of its own: over millions of rows it takes seconds. One that is wrong is counted as a fault, which Today shows, and made anew: nobody goes on
 * reading a wrong figure. @returns the tables that were wrong
 */
export async function checkTotals(app: App): Promise<string[]> {
  const wrong: string[] = [];
  for (const table of totalTables) {
    const keys = await app.reader.work(totalReadings.wrongTotal, { table }, () => undefined).result;
    if (!keys.length) continue;
    wrong.push(table);
    app.faults.note(
      `totals of ${table}`,
      new Error(`Not the sum of its rows, made anew: ${keys.join(', ')}`),
    );
  }
  if (wrong.length) rebuildTotals(app.sqlite);
  return wrong;
}
