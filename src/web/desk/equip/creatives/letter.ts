import { useEffect, useState } from 'react';
import { markdownLetter } from '../../../../core/material/letter';

/** What stands for the values of whoever will send it. */
const example = {
  link: '#',
  name: 'their name',
  handle: 'their-handle',
  product: 'the product',
  coupon: 'CODE',
};

/** An e-mail in Markdown as HTML while it is typed. The reader of Markdown is fetched when there is something to read. */
export function useLetter(body: string): string {
  const [html, setHtml] = useState('');
  useEffect(() => {
    let gone = false;
    const render = async () => {
      const { default: MarkdownIt } = await import('markdown-it');
      if (!gone)
        setHtml(new MarkdownIt({ html: false, linkify: true }).render(markdownLetter(body, example)));
    };
    if (body !== '') void render();
    return () => {
      gone = true;
    };
  }, [body]);
  return body === '' ? '' : html;
}
