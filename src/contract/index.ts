import { Kind, type TSchema } from '@sinclair/typebox';
import type { AnyEndpoint } from './endpoint';
import * as coupons from './equip/coupons';
import * as coverage from './equip/coverage';
import * as creatives from './equip/creatives';
import * as material from './equip/material';
import * as planned from './equip/planned';
import * as requests from './equip/requests';
import * as results from './equip/results';
import * as audit from './lookback/audit';
import * as reports from './lookback/today';
import * as ownCoupons from './portal/coupons';
import * as ownFeeds from './portal/feeds';
import * as ownFigures from './portal/figures';
import * as ownHome from './portal/home';
import * as ownLinks from './portal/links';
import * as ownMaterial from './portal/material';
import * as ownMessages from './portal/messages';
import * as portal from './portal/portal';
import * as ownProfile from './portal/profile';
import * as affiliates from './recruit/affiliates';
import * as recruiting from './recruit/applications';
import * as messages from './recruit/letters';
import * as offers from './recruit/offers';
import * as practices from './recruit/practices';
import * as prospects from './recruit/prospects';
import * as roster from './recruit/roster';
import * as screening from './recruit/screening';
import * as session from './session';
import * as commissions from './settle/commissions';
import * as ledger from './settle/ledger';
import * as payouts from './settle/payouts';
import * as funnels from './setup/funnels';
import * as policy from './setup/policy';
import * as products from './setup/products';
import * as ratebook from './setup/rate-book';
import * as sets from './setup/sets';
import * as staff from './setup/settings';
import * as shares from './setup/shares';
import * as common from './shared';
import * as connection from './track/connection';
import * as pages from './track/pages';
import * as sales from './track/sales';
import * as unconfirmed from './track/unconfirmed';

function isEndpoint(value: unknown): value is AnyEndpoint {
  return (
    typeof value === 'object' && value !== null && 'method' in value && 'access' in value && 'path' in value
  );
}

const modules = [
  session,
  roster,
  messages,
  practices,
  prospects,
  offers,
  policy,
  screening,
  shares,
  products,
  funnels,
  sets,
  ratebook,
  recruiting,
  affiliates,
  creatives,
  coupons,
  coverage,
  requests,
  material,
  planned,
  results,
  connection,
  pages,
  sales,
  unconfirmed,
  commissions,
  ledger,
  payouts,
  reports,
  audit,
  ownHome,
  portal,
  ownLinks,
  ownProfile,
  ownMaterial,
  ownCoupons,
  ownFeeds,
  ownFigures,
  ownMessages,
  staff,
];

const exported = modules.flatMap((module): [string, unknown][] => Object.entries(module));

/** Every call of the interface, for the OpenAPI document and for the test that walks them by role. */
export const endpoints: [name: string, endpoint: AnyEndpoint][] = exported.filter(
  (pair): pair is [string, AnyEndpoint] => isEndpoint(pair[1]),
);

const isSchema = (value: unknown): value is TSchema =>
  typeof value === 'object' && value !== null && Kind in value;

/** Every schema of the contract that has a name of its own. */
export const schemas: [name: string, schema: TSchema][] = [...Object.entries(common), ...exported].filter(
  (pair): pair is [string, TSchema] => isSchema(pair[1]),
);
