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
    .replace(/\[([^\]]*)\]\(([^)\s]*)\)/g, (_, words: string, address: string) =>
      withAddresses && address !== words ? `${words} (${address})` : words,
    )
    .replace(/(\*\*|__)(.+?)\1/g, '$2')
    .replace(/(^|\s)[*_](\S[^*_\n]*)[*_](?=[\s.,;:!?)]|$)/g, '$1$2')
    .replace(/^#{1,6}\s+/gm, '')
    .replace(/\\([\\`*_[\]<>#!|~&])/g, '$1');
}

/** What is read of a piece of markup: its text without tags, styles and scripts. */
export function plainMarkup(code: string): string {
  return code
    .replace(/<(style|script)\b[^>]*>[\s\S]*?<\/\1\s*>/gi, ' ')
    .replace(/<[^>]*>/g, ' ')
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
