import { create } from 'xmlbuilder2';
import { rfc822, type Feed } from '../../../core/material/feed';
import { escapeHtml } from '../../../core/text/plain';

/** Letters that XML 1.0 has no place for: what came in before they were refused is left out. */
const unprintable = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

/** The builder takes “&lt;” in a text for what is escaped already: an ampersand is escaped before it sees it. */
const plain = (text: string) => text.replace(unprintable, '').replaceAll('&', '&amp;');

/** A feed as RSS 2.0, with its own address as the Atom extension has it. https://www.rssboard.org/rss-specification */
export function rss({ title, about, home, self, language, items }: Feed): string {
  const channel = create({ version: '1.0', encoding: 'UTF-8' })
    .ele('rss', { version: '2.0', 'xmlns:atom': 'http://www.w3.org/2005/Atom' })
    .ele('channel');
  channel.ele('title').txt(plain(title));
  channel.ele('link').txt(home);
  channel.ele('description').txt(plain(about || title));
  channel.ele('language').txt(language);
  channel.ele('atom:link', { href: self, rel: 'self', type: 'application/rss+xml' });
  for (const item of items) {
    const one = channel.ele('item');
    one.ele('title').txt(plain(item.title));
    one.ele('link').txt(item.url);
    // readers take it for HTML: what is text is said as such
    one.ele('description').txt(plain(escapeHtml(item.text)));
    one.ele('guid', { isPermaLink: 'false' }).txt(item.id);
    one.ele('pubDate').txt(rfc822(item.at));
  }
  return channel.end({ prettyPrint: true });
}
