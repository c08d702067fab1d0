/** Letters of a text that a list shows. */
const mostShown = 240;

interface Texts {
  alt: string;
  words: string;
  code: string;
  address: string;
  body: string;
}

/** A text in Markdown as plain text: links with their address in brackets, without marks. @param withAddresses false: their words alone */
export function plainMarkdown(text: string, withAddresses = true): string {
  return text
    .replace(/\[([^\]]{0,500})\]\(([^)\s]{0,2000})\)/g, (_, words: string, address: string) =>
      withAddresses && address !== words ? `${words} (${address})` : words,
    )
    .replace(/(\*\*|__)(.+?)\1/g, '$2')
    .replace(/(^|\s)[*_](\S[^*_\n]*)[*_](?=[\s.,;:!?)]|$)/g, '$1$2')
    .replace(/^#{1,6}\s+/gm, '')
    .replace(/\\([\\`*_[\]<>#!|~&])/g, '$1');
}

/** Where the next end of a style or a script is over, from a place on; null where none comes. */
function endBehind(code: string, tag: string, from: number): number | null {
  const end = new RegExp(`</${tag}\\s*>`, 'gi');
  end.lastIndex = from;
  return end.exec(code) ? end.lastIndex : null;
}

/** Markup without styles and scripts. It is gone through once: it may be 100 KB of beginnings without an end. */
function withoutHidden(code: string): string {
  const kept: string[] = [];
  const endless = new Set<string>();
  const hidden = /<(style|script)\b/gi;
  let at = 0;
  for (let found = hidden.exec(code); found; found = hidden.exec(code)) {
    const tag = found[1]!.toLowerCase();
    const open = code.indexOf('>', found.index);
    if (open < 0) break;
    const over = endless.has(tag) ? null : endBehind(code, tag, open + 1);
    if (over === null) {
      endless.add(tag);
      continue;
    }
    kept.push(code.slice(at, found.index));
    at = hidden.lastIndex = over;
  }
  return [...kept, code.slice(at)].join(' ');
}

/** Markup without tags; what begins and does not end is text. */
function withoutTags(code: string): string {
  const kept: string[] = [];
  let at = 0;
  for (;;) {
    const begin = code.indexOf('<', at);
    const end = begin < 0 ? -1 : code.indexOf('>', begin);
    if (end < 0) return [...kept, code.slice(at)].join(' ');
    kept.push(code.slice(at, begin));
    at = end + 1;
  }
}

/** What is read of a piece of markup: its text without tags, styles and scripts. */
export function plainMarkup(code: string): string {
  return withoutTags(withoutHidden(code))
    .replace(/&nbsp;/g, ' ')
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&amp;/g, '&')
    .replace(/\s+/g, ' ')
    .trim();
}

/** What is read of a creative where only its beginning is shown. */
export function shownText({ alt, words, code, address, body }: Texts): string {
  const text = words || plainMarkdown(body, false) || plainMarkup(code) || address || alt;
  return text.length > mostShown ? `${text.slice(0, mostShown).trimEnd()}…` : text;
}
