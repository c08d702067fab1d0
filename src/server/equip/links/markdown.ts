import MarkdownIt from 'markdown-it';
import { markdownLetter, type LetterValues } from '../../../core/material/letter';

/** Markdown without markup of its own: what looks like HTML is text, and only addresses of pages become links. */
const reader = new MarkdownIt({ html: false, linkify: true, breaks: false, typographer: false });
reader.validateLink = (address) => /^(https?:|mailto:)/i.test(address.trim());

/** A ready-made e-mail as HTML, with its words filled. */
export const letterHtml = (body: string, values: LetterValues): string =>
  reader.render(markdownLetter(body, values));
