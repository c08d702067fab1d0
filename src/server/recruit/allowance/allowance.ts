import { and, eq, ne, sql } from 'drizzle-orm';
import { dayOf } from '../../../core/calendar/zone';
import { type App } from '../../ground/context';
import { questions } from '../../ground/tables/applications';
import { invites } from '../../ground/tables/prospects';
import { theProgramme } from '../../registers/programme/record';

/** How many messages may still go to people who have not joined today: questions and invitations together. */
export function asksLeft(app: App): number {
  const { messagesPerDay, zone } = theProgramme(app);
  const used = app.db
    .select({ n: sql<number>`count(*)` })
    .from(questions)
    .where(and(eq(questions.day, dayOf(app.clock.now(), zone)), eq(questions.counted, true)))
    .get()!.n;
  const invited = app.db
    .select({ n: sql<number>`count(*)` })
    .from(invites)
    .where(and(eq(invites.day, dayOf(app.clock.now(), zone)), ne(invites.state, 'withdrawn')))
    .get()!.n;
  return Math.max(0, messagesPerDay - used - invited);
}
