/** What can wait for somebody of the staff, by the place where it is seen to. */
export const waitingKinds = [
  'mail',
  'connection',
  'faults',
  'applications',
  'policy',
  'offers',
  'requests',
  'material',
  'coupons',
  'payouts',
  'sales',
  'clearing',
] as const;
export type WaitingKind = (typeof waitingKinds)[number];
