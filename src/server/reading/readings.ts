import { couponReadings } from '../equip/coupons/readings';
import { coverageReadings } from '../equip/coverage/readings';
import { creativeReadings } from '../equip/creatives/readings';
import { plannedReadings } from '../equip/due/readings';
import { feedReadings } from '../equip/feeds/readings';
import type { AnyReading } from '../ground/reading/readings';
import { ledgerReadings } from '../ledger/readings';
import { lookbackReadings } from '../lookback/readings';
import { portalReadings } from '../portal/readings';
import { applicationReadings } from '../recruit/applications/readings';
import { practiceReadings } from '../recruit/practices/readings';
import { prospectReadings } from '../recruit/prospects/readings';
import { rosterReadings } from '../recruit/roster/readings';
import { runReadings } from '../settle/runs/readings';
import { policyReadings } from '../setup/policy/readings';
import { productReadings } from '../setup/products/readings';
import { termsReadings } from '../setup/terms/readings';
import { totalReadings } from '../totals/readings';
import { connectionReadings } from '../track/connection/readings';
import { orderReadings } from '../track/orders/readings';

/** Everything that the thread can be asked, by name. */
export const readings = new Map<string, AnyReading>(
  [
    totalReadings,
    ledgerReadings,
    productReadings,
    termsReadings,
    policyReadings,
    practiceReadings,
    prospectReadings,
    applicationReadings,
    rosterReadings,
    creativeReadings,
    couponReadings,
    coverageReadings,
    feedReadings,
    plannedReadings,
    orderReadings,
    connectionReadings,
    runReadings,
    lookbackReadings,
    portalReadings,
  ].flatMap((own) => Object.values<AnyReading>(own).map((r) => [r.name, r] as const)),
);
