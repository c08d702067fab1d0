import type { App } from '../ground/context';
import { readingsOf } from '../ground/reading/readings';
import { wrongIn } from './checks';

/** Whether a total still is the sum of its rows, looked for beside the serving thread. */
export const totalReadings = readingsOf({
  wrongTotal: (app: App, { table }: { table: string }) => wrongIn(app.sqlite, table),
});
