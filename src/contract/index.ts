import * as affiliates from './affiliates';
import type { AnyEndpoint } from './endpoint';
import * as funnels from './funnels';
import * as ledger from './ledger';
import * as messages from './messages';
import * as offers from './offers';
import * as payouts from './payouts';
import * as policy from './policy';
import * as portal from './portal';
import * as products from './products';
import * as prospects from './prospects';
import * as ratebook from './ratebook';
import * as recruiting from './recruiting';
import * as reports from './reports';
import * as roster from './roster';
import * as screening from './screening';
import * as session from './session';
import * as sets from './sets';
import * as shares from './shares';
import * as staff from './staff';
import * as tracking from './tracking';

function isEndpoint(value: unknown): value is AnyEndpoint {
  return (
    typeof value === 'object' && value !== null && 'method' in value && 'access' in value && 'path' in value
  );
}

/** Every call of the interface, for the OpenAPI document and for the test that walks them by role. */
export const endpoints: [name: string, endpoint: AnyEndpoint][] = [
  session,
  roster,
  messages,
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
  tracking,
  ledger,
  payouts,
  reports,
  portal,
  staff,
]
  .flatMap((module) => Object.entries(module))
  .filter((pair): pair is [string, AnyEndpoint] => isEndpoint(pair[1]));
