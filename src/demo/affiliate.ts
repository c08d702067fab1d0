import { type Timing } from '../core/ledger/timing';
import type { PracticeKey } from '../core/recruiting/practices';

export interface DemoAffiliate {
  name: string;
  email: string;
  country: string;
  site: string;
  channels: string;
  note: string;
  joined: string;
  timing: Timing;
  weight: number;
  product: string;
  bad?: boolean;
  details?: boolean;
  /** who brought it in */ by?: string;
  address?: string;
  /** practices that it ticks; left out where nobody asked yet */ practices?: PracticeKey[];
}

/** Name, address before its dot, country, site, how it promotes, since when, how busy, and its note. */
type Told = [string, string, string, string, string, string, number, string];

/** A partner of the scenario, with what is not as usual. */
export const partner = (
  [name, email, country, site, channels, joined, weight, note]: Told,
  more: Partial<DemoAffiliate> = {},
): DemoAffiliate => ({
  name,
  email: `${email}.example`,
  country,
  site: `${site}.example`,
  channels,
  joined,
  weight,
  note,
  timing: 'after-hold',
  product: '',
  details: true,
  ...more,
});
