import { escapeHtml } from '../text/plain';
import type { CreativeKind } from './lists';

/** A creative with its words filled for who copies it. */
export interface Copied {
  kind: CreativeKind;
  name: string;
  /** the tracking link, with sub-ids where they were typed */
  link: string;
  handle: string;
  /** address of its file; null where it has none */
  file: string | null;
  poster: string | null;
  /** as it is to be shown, pixels */
  width: number | null;
  height: number | null;
  alt: string;
  words: string;
  around: string;
  code: string;
  address: string;
}

/** What is put on a page, in a post or in a message, ready to be pasted. Empty where a kind has no such form. */
export interface Copies {
  html: string;
  markdown: string;
  text: string;
}

const anchor = (link: string, inner: string) => `<a href="${escapeHtml(link)}">${inner}</a>`;

const sized = ({ width, height }: Copied) =>
  width !== null && height !== null ? ` width="${width}" height="${height}"` : '';

/** A text as Markdown reads it literally. CommonMark 0.31: any punctuation may stand behind a backslash. */
const literal = (text: string) => text.replace(/[\\`*_[\]<>#!|~&]/g, '\\$&');

function banner(piece: Copied): Copies {
  const { link, file, alt } = piece;
  const picture = `<img src="${escapeHtml(file ?? '')}"${sized(piece)} alt="${escapeHtml(alt)}">`;
  return {
    html: anchor(link, picture),
    markdown: `[![${literal(alt)}](${file ?? ''})](${link})`,
    text: alt ? `${alt}: ${link}` : link,
  };
}

/** A sentence with something put where {link} stands; without a sentence, that alone. */
const within = (sentence: string, part: string) =>
  sentence === '' ? part : sentence.split('{link}').join(part);

function textLink({ link, words, around }: Copied): Copies {
  const escaped = around
    .split('{link}')
    .map((part) => escapeHtml(part))
    .join('{link}');
  const plain = around
    .split('{link}')
    .map((part) => literal(part))
    .join('{link}');
  return {
    html: within(escaped, anchor(link, escapeHtml(words))),
    markdown: within(plain, `[${literal(words)}](${link})`),
    text: within(around, around === '' ? `${words}: ${link}` : `${words} (${link})`),
  };
}

/** In markup the link stands in attributes: what a query parts its values with is escaped. */
function piece({ link, handle, code }: Copied): Copies {
  const html = code.replaceAll('{link}', escapeHtml(link)).replaceAll('{handle}', escapeHtml(handle));
  return { html, markdown: '', text: link };
}

function video(shown: Copied): Copies {
  const { link, name, file, poster, address } = shown;
  const watched = file
    ? `<video controls preload="none" src="${escapeHtml(file)}"${poster ? ` poster="${escapeHtml(poster)}"` : ''}${sized(shown)}></video>`
    : anchor(address, escapeHtml(name));
  return {
    html: `${watched}\n<p>${anchor(link, escapeHtml(name))}</p>`,
    markdown: `[${literal(name)}](${link})`,
    text: `${name}: ${link}`,
  };
}

/** A creative as HTML, Markdown and plain text. The words of an e-mail are no piece of a page: it is copied as a letter. */
export function copiesOf(shown: Copied): Copies {
  switch (shown.kind) {
    case 'banner':
      return banner(shown);
    case 'text-link':
      return textLink(shown);
    case 'html':
      return piece(shown);
    case 'video':
      return video(shown);
    case 'email':
      return { html: '', markdown: '', text: shown.link };
  }
}

/** The own marks that an affiliate puts at its links, told apart in its figures. */
export const subIdNames = ['s1', 's2', 's3', 's4', 's5'] as const;
export type SubIds = Partial<Record<(typeof subIdNames)[number], string>>;

/** A link with sub-ids, and with a page of its own to lead to. */
export function linkWith(link: string, subIds: SubIds, to = ''): string {
  const query = new URLSearchParams();
  for (const name of subIdNames) {
    const value = subIds[name]?.trim();
    if (value) query.set(name, value);
  }
  if (to !== '') query.set('to', to);
  const text = query.toString();
  return text === '' ? link : `${link}?${text}`;
}
