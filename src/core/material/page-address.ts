/** What the redirect adds to a page's address: whoever copies it out of the browser copies that along. */
const added = ['gvn', 'coupon'];

/**
 * A page's address as it is kept for a link: the same page typed in two ways is one link. Host in small letters, without what the redirect
 * had added. @param page an address without fault
 */
export function pageAddress(page: string): string {
  const url = new URL(page);
  for (const name of added) url.searchParams.delete(name);
  return url.href;
}
