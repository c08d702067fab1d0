import { escapeHtml } from '../../../core/text/plain';

/** A page for people who use nothing of the interface: buyers, followers of a broken link. @param title plain text @param body HTML that the caller made safe */
export function plainPage(title: string, body: string, heading = title): string {
  return (
    `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escapeHtml(title)}</title>` +
    '<body style="font:16px/1.5 Georgia,serif;max-width:34em;margin:4em auto;padding:0 1em;color:#1C2430;background:#FBFAF6">' +
    `<h1>${escapeHtml(heading)}</h1>${body}</body></html>`
  );
}
