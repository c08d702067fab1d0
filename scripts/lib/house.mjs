/**
 * The house as rules: which folder of src may import which, and who owns which tables. The layer check reads them, and
 * the picture in docs/architecture.md is drawn from them.
 */

/** Parts of src, and what each may import of the others. */
export const parts = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  standins: ['core'],
  demo: ['core', 'contract', 'server', 'standins'],
};

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
  ['reading'],
];

/** Who writes the tables of a file in src/server/ground/tables. Whoever reads them stands on the same floor or above. */
export const owners = {
  answers: 'ground/http',
  programme: 'registers/programme',
  access: 'registers/access',
  people: 'registers/people',
  catalogue: 'registers/catalogue',
  exchange: 'registers/exchange',
  outbox: 'registers/outbox',
  ledger: 'ledger',
  totals: 'totals',
  products: 'setup/products',
  terms: 'setup/terms',
  policy: 'setup/policy',
  prospects: 'recruit/prospects',
  offers: 'recruit/offers',
  practices: 'recruit/practices',
  applications: 'recruit/applications',
  roster: 'recruit/roster',
  letters: 'recruit/letters',
  planned: 'equip/planned',
  creatives: 'equip/creatives',
  coupons: 'equip/coupons',
  requests: 'equip/requests',
  feeds: 'equip/feeds',
  visits: 'track/visits',
  connection: 'track/connection',
  reports: 'track/reports',
  orders: 'track/orders',
  quotes: 'track/quotes',
  crediting: 'track/crediting',
  runs: 'settle/runs',
  portal: 'portal',
};

/** Facts of the trade that lower floors read too, and from which floor on. */
export const readFrom = {
  orders: 'ledger',
  visits: 'totals',
  crediting: 'setup',
};
