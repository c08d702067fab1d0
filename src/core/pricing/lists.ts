export const productStates = ['draft', 'live', 'paused', 'retired'] as const;

/** `book`: order bands, which only the rate book can set; the product leaves them as they are */
export const rewardKinds = ['none', 'percent', 'flat', 'book'] as const;

export const productKinds = ['one-off', 'recurring', 'instalments', 'free'] as const;

export const intervals = ['week', 'month', 'quarter', 'year', 'days'] as const;

export const deliveries = ['none', 'file', 'access', 'shipped'] as const;

export const recruitings = ['reviewed', 'screened', 'open', 'none'] as const;

export type ProductState = (typeof productStates)[number];
export type Delivery = (typeof deliveries)[number];
export type Recruiting = (typeof recruitings)[number];
