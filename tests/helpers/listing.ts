import { join } from 'node:path';
import { openStandins, setSwitch } from '../../src/standins/store';

/** Has the stand-in registry of a data folder list so many partners: of its 30,000, whoever does not look for partners copies as few. */
export function listOnly(data: string, partners: number): void {
  const db = openStandins(join(data, 'standins.sqlite'));
  setSwitch(db, 'partners', String(partners));
  db.close();
}
