/** One thing of a feed. Moments are UTC milliseconds. */
export interface FeedItem {
  /** never changes, and names nothing else */
  id: string;
  title: string;
  url: string;
  text: string;
  at: number;
  picture?: string;
  /** what only readers of our own values know: a code, a price */
  extra?: Readonly<Record<string, string>>;
}

/** A feed before it has a form. */
export interface Feed {
  title: string;
  about: string;
  /** page that it belongs to, and its own address */
  home: string;
  self: string;
  language: string;
  items: readonly FeedItem[];
}

/** A moment as RSS 2.0 writes it (RFC 822, four digits of the year). */
export const rfc822 = (at: number): string => new Date(at).toUTCString().replace('GMT', '+0000');

/** A feed as JSON Feed 1.1, https://www.jsonfeed.org/version/1.1/. What is ours alone stands under “_gravenel”. */
export function jsonFeed({ title, about, home, self, language, items }: Feed): object {
  return {
    version: 'https://jsonfeed.org/version/1.1',
    title,
    ...(about ? { description: about } : {}),
    home_page_url: home,
    feed_url: self,
    language,
    items: items.map(({ id, title: name, url, text, at, picture, extra }) => ({
      id,
      url,
      title: name,
      content_text: text,
      date_published: new Date(at).toISOString(),
      ...(picture ? { image: picture } : {}),
      ...(extra
        ? { _gravenel: { about: 'https://www.jsonfeed.org/version/1.1/#extensions', ...extra } }
        : {}),
    })),
  };
}
