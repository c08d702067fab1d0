/** Where a product stands: links of a paused or retired one earn nothing. */
export const productStates = ['draft', 'live', 'paused', 'retired'] as const;

/** `book`: order bands, which only the rate book can set; the product leaves them as they are */
export const rewardKinds = ['none', 'percent', 'flat', 'book'] as const;

/** What a buyer gets. */
export const deliveries = ['none', 'file', 'access', 'shipped'] as const;

/** Who decides who may promote it; `none` is nobody, without affiliates. */
export const recruitings = ['reviewed', 'screened', 'open', 'none'] as const;

export type ProductState = (typeof productStates)[number];
export type Delivery = (typeof deliveries)[number];
export type Recruiting = (typeof recruitings)[number];
