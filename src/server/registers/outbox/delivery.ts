import { and, asc, eq, lte } from 'drizzle-orm';
import { type App } from '../../ground/context';
import { MailRefused } from '../../ground/ports';
import { messages, type MessageLink } from '../../ground/tables/outbox';
import { acceptanceLink, answerLink, newPasswordLink } from '../access/links';
import { mailArrives, noteOfAffiliate } from '../people/write';
import { theProgramme } from '../programme/record';

type Message = typeof messages.$inferSelect;

const minute = 60_000;
/** Waits between tries that failed for now; the last is repeated. */
const waits = [1, 5, 15, 60, 180].map((m) => m * minute);
/** So long a message is tried again, by machine time. */
export const patience = 2 * 24 * 60 * minute;

function linkMade(app: App, link: MessageLink): string {
  switch (link.use) {
    case 'accept':
      return acceptanceLink(app, link.person, link.policy);
    case 'answer':
      return answerLink(app, link.question);
    default:
      return newPasswordLink(app, link.kind, link.person, link.use);
  }
}

/** The text as it leaves. The link stands where a number says, so that no word of the text can ask for one. */
function textOf(app: App, { body, linkAt, link, affiliate }: Message): string {
  const asked: MessageLink | null =
    link ?? (affiliate ? { kind: 'affiliate', person: affiliate, use: 'welcome' } : null);
  if (linkAt === null || !asked) return body;
  return body.slice(0, linkAt) + linkMade(app, asked) + body.slice(linkAt);
}

function bounced(app: App, row: Message, said: string): void {
  app.db
    .update(messages)
    .set({ state: 'bounced', fault: said, tries: row.tries + 1 })
    .where(eq(messages.id, row.id))
    .run();
  // shown at the person: the roster finds whose mail bounces
  if (row.affiliate) noteOfAffiliate(app, row.affiliate, { mailFault: said });
}

function triedAgain(app: App, row: Message, said: string): void {
  const now = app.clock.real();
  const triedAt = row.triedAt ?? now;
  if (now - triedAt >= patience) return bounced(app, row, `tried for two days: ${said}`.slice(0, 300));
  const wait = waits[Math.min(row.tries, waits.length - 1)]!;
  app.db
    .update(messages)
    .set({ fault: said, tries: row.tries + 1, triedAt, leavesAt: now + wait })
    .where(eq(messages.id, row.id))
    .run();
  return undefined;
}

/** @returns false where the mail service itself cannot be reached, so that trying the next is of no use */
async function deliver(app: App, row: Message): Promise<boolean> {
  try {
    await app.mail!.deliver({
      id: row.id,
      to: row.to,
      from: theProgramme(app).contact,
      subject: row.subject,
      body: textOf(app, row),
      at: row.at,
    });
  } catch (thrown) {
    const refused =
      thrown instanceof MailRefused
        ? thrown
        : new MailRefused('later', thrown instanceof Error ? thrown.message : 'not delivered');
    const said = refused.message.slice(0, 300);
    app.log.warn(
      { message: row.id, fault: said, again: refused.when !== 'never' },
      'a message was not taken',
    );
    if (refused.when === 'never') bounced(app, row, said);
    else triedAgain(app, row, said);
    return refused.when !== 'unreachable';
  }
  app.db.update(messages).set({ state: 'sent', fault: null }).where(eq(messages.id, row.id)).run();
  if (row.affiliate) mailArrives(app, row.affiliate);
  return true;
}

/** Hands waiting messages to the mail port, oldest first. What is refused for ever is marked at the person; what fails for now is tried again for two days. Without a mail service everything waits. @returns how many were tried */
export async function deliverWaiting(app: App, most = 200): Promise<number> {
  if (!app.mail) return 0;
  const rows = app.db
    .select()
    .from(messages)
    .where(and(eq(messages.state, 'waiting'), lte(messages.leavesAt, app.clock.real())))
    .orderBy(asc(messages.leavesAt), asc(messages.id))
    .limit(most)
    .all();
  let tried = 0;
  for (const row of rows) {
    tried += 1;
    if (!(await deliver(app, row))) break;
  }
  return tried;
}
