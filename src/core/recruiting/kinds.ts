/** Kinds of partners by how they promote, with words that name each in what people write of themselves. */
export const partnerKinds = {
  blog: ['blog', 'weblog'],
  newsletter: ['newsletter', 'letter', 'mailing'],
  video: ['video', 'films', 'channel'],
  podcast: ['podcast', 'radio'],
  magazine: ['magazine', 'journal', 'gazette'],
  reviews: ['review', 'reviews', 'tests'],
  classes: ['classes', 'courses', 'teacher', 'teachers', 'school'],
  community: ['community', 'club', 'forum'],
  events: ['events', 'fairs', 'firings'],
  shop: ['shop', 'store'],
  coupons: ['coupon', 'coupons', 'deals', 'codes'],
  'cash return': ['cash return', 'cashback'],
  'paid search': ['paid search', 'search ads', 'adverts'],
} as const;
export type PartnerKind = keyof typeof partnerKinds;
export const partnerKindList = Object.keys(partnerKinds) as PartnerKind[];

/** Which kinds a text on channels names, in the order of the list; none if it names none. */
export function kindsIn(channels: string): PartnerKind[] {
  const words = ` ${channels.toLowerCase().replace(/[^\p{L}]+/gu, ' ')} `;
  return partnerKindList.filter((kind) => partnerKinds[kind].some((word) => words.includes(` ${word} `)));
}

/** What an applicant's kinds have against the programme's wishes, in words; null where nothing is against them. */
export function mismatch(
  kinds: readonly string[],
  wanted: readonly string[],
  unwanted: readonly string[],
): string | null {
  const barred = kinds.filter((k) => unwanted.includes(k));
  if (barred.length) return `your policy does not take ${barred.join(' or ')}`;
  if (wanted.length && kinds.length && !kinds.some((k) => wanted.includes(k)))
    return `${kinds.join(', ')}: not a kind you look for`;
  return null;
}

/** Categories that programmes and offers are listed under. */
export const categories = [
  'Crafts and studio supplies',
  'Courses and teaching',
  'Home and garden',
  'Software and tools',
  'Books and magazines',
  'Food and drink',
  'Health and sport',
  'Clothing',
  'Travel',
  'Children',
  'Business services',
  'Other',
] as const;
