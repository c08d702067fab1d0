/** What affiliates promote with. */
export const creativeKinds = ['banner', 'text-link', 'html', 'video', 'email'] as const;
export type CreativeKind = (typeof creativeKinds)[number];

/** One creative of a kind, and several, in words. */
export const kindWords: Record<CreativeKind, readonly [one: string, many: string]> = {
  banner: ['banner', 'banners'],
  'text-link': ['text link', 'text links'],
  html: ['HTML piece', 'HTML pieces'],
  video: ['video', 'videos'],
  email: ['e-mail', 'e-mails'],
};

/** “a banner”, “an e-mail”. */
export const oneOfKind = (kind: CreativeKind): string =>
  `${kind === 'html' || kind === 'email' ? 'an' : 'a'} ${kindWords[kind][0]}`;

/** What state a creative is in: derived from its dates, its switch and its products, never typed. */
export const creativeStates = ['on', 'scheduled', 'waiting', 'off', 'ended'] as const;
export type CreativeState = (typeof creativeStates)[number];

export const creativeStateWords: Record<CreativeState, string> = {
  on: 'on',
  scheduled: 'scheduled',
  waiting: 'waiting for its product',
  off: 'off',
  ended: 'ended',
};

/** For whom a creative or a coupon is. */
export const audienceKinds = ['everybody', 'group', 'tag', 'segment', 'named'] as const;
export type AudienceKind = (typeof audienceKinds)[number];

/** How a banner or a video stands among the others. */
export const shapes = ['box', 'wide', 'tower', 'phone', 'shared'] as const;
export type Shape = (typeof shapes)[number];

/** How a list of creatives is ordered. */
export const creativeOrders = ['newest', 'clicks'] as const;
export type CreativeOrder = (typeof creativeOrders)[number];

/** What becomes of a change that is planned for later. */
export const plannedStates = ['coming', 'done', 'undone', 'dropped'] as const;
export type PlannedState = (typeof plannedStates)[number];

/** What a buyer gets by a coupon. */
export const couponGives = ['percent', 'amount', 'shipping', 'other'] as const;
export type CouponGives = (typeof couponGives)[number];

/** By what it is known how the shop takes a coupon: an order with it, a person's word, the shop's refusal. */
export const evidenceKinds = ['seen', 'said', 'refused'] as const;
export type EvidenceKind = (typeof evidenceKinds)[number];

/** How a coupon stands in the shop: by its latest evidence, or by none. */
export const shopStates = ['never', ...evidenceKinds] as const;
export type ShopState = (typeof shopStates)[number];

/** What becomes of something that an affiliate asks for. */
export const requestStates = ['open', 'answered', 'withdrawn'] as const;
export type RequestState = (typeof requestStates)[number];
