import { type Considered, type RungWorking } from './considered';
import { type ResolvedLine } from './order';
import { type Event, type Pay, type Rate } from './rate';

/** How a line's amount was come by, where more than one reward had a say. Amounts in minor units of base. */
export interface Steps {
  /** the ladder's reward: of the band, where the rate has bands */
  pay: Pay | null;
  band: { from: number; worth: number } | null;
  /** what the reward promises the line, before the limit to what the line is worth; absent in workings kept before it was said */
  promised?: number;
  /** what the ladder alone gives, after the cap */
  ladder: number;
  /** `before`: the line's part before the cap; `sum`: that of all lines of the rate, absent in workings kept before it was said; `earlier`: what earlier payments of the order earned under it */
  cap: { amount: number; before: number; sum?: number; earlier?: number } | null;
  /** `flat`: this line's share of a flat reward; `cap` of an order; `uncapped`: what it adds without its cap. Absent in older workings */
  uplift: {
    mode: Rate['mode'];
    pay: Pay;
    label: string;
    until: number | null;
    flat?: number;
    cap?: number | null;
    earlier?: number;
    uncapped?: number;
  } | null;
  /** a flat reward per order that an earlier payment of the order earned */
  earnedBefore?: boolean;
}

export interface LineWorking extends ResolvedLine {
  locked: boolean;
  rungs: RungWorking[];
  /** absent in workings that were kept before there were uplifts */
  uplifts?: Considered[];
  steps?: Steps;
}

export interface Working {
  event: Event;
  at: number;
  payment?: number;
  currency: string;
  base: string;
  rateMicros: number;
  lines: LineWorking[];
  total: number;
}
