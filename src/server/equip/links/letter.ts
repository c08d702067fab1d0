import MailComposer from 'nodemailer/lib/mail-composer';
import { inlineLetter, plainLetter } from '../../../core/material/letter';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { linkAddress, linkMade, linkOf } from '../../registers/people/links';
import { letterHtml } from './markdown';
import { ownCreative } from './own';
import { letterValues } from './take';
import { wordsFor } from './words';

/**
 * A ready-made e-mail as a file that a mail program opens to be sent on (RFC 5322, marked as unsent): nobody is named in it but whom the affiliate
 * writes it to. @param number of its subject line, from 1 on @param looking true: somebody of the staff only looks, and no link is made for that
 */
export async function letterFile(
  app: App,
  affiliate: Id<'affiliate'>,
  id: Id<'creative'>,
  { number, looking }: { number: number; looking: boolean },
): Promise<string> {
  const row = ownCreative(app, affiliate, id);
  if (row.kind !== 'email') throw new Problem('conflict', 'Only an e-mail can be opened by a mail program');
  const known = linkOf(app, affiliate, { creative: id });
  if (known === null && looking)
    throw new Problem('conflict', 'This affiliate has not taken the e-mail yet, so there is no link in it');
  const code = known ?? app.transaction(() => linkMade(app, affiliate, { creative: id }));
  const words = wordsFor(app, affiliate, [row])(row);
  const values = letterValues(app, affiliate, row, linkAddress(app, code));
  const subject = words.subjects[number - 1] ?? words.subjects[0] ?? '';
  const mail = new MailComposer({
    subject: inlineLetter(subject, values),
    text: plainLetter(words.body, values),
    html: letterHtml(words.body, values),
    headers: { 'X-Unsent': '1' },
    date: new Date(app.clock.now()),
    messageId: `<${id}.${affiliate}.${number}@${new URL(app.address).hostname}>`,
  });
  return (await mail.compile().build()).toString();
}
