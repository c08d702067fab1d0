/**
 * The house as rules: which folder of src may import which. The layer check reads them, and the picture in
 * docs/architecture.md is drawn from them.
 */

/** Floors of the server, lowest first. Rooms of one floor know only lower floors, and each other without circles. */
export const floors = [
  ['ground'],
  ['registers'],
  ['ledger', 'totals'],
  ['setup'],
  ['recruit'],
  ['equip'],
  ['track'],
  ['settle'],
  ['lookback'],
  ['portal'],
  ['jobs'],
];
