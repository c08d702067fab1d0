import { eq } from 'drizzle-orm';
import { type FieldFault } from '../../../contract/explain';
import { isZone } from '../../../core/calendar/zone';
import { isCurrency } from '../../../core/money/currency';
import { emailKey } from '../../../core/recruiting/evidence';
import { touch } from '../../ground/cache';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem } from '../../ground/http/problem';
import { staff } from '../../ground/tables/access';
import { record } from '../access/audit';
import { hashPassword } from '../access/passwords';
import { addPerson } from '../access/write';
import { programmeOrNull } from '../programme/record';
import { beginProgramme } from '../programme/write';

interface SetUp {
  merchant: string;
  contact: string;
  currency: string;
  zone: string;
  owner: string;
  email: string;
  password: string;
  tryOut: boolean;
}

export function refuseSecondSetUp(app: App): void {
  if (programmeOrNull(app)) throw new Problem('conflict', 'The programme is set up already; sign in instead');
}

/** Creates the programme and its first owner. @throws Problem `conflict` if there is a programme */
export async function setUp(app: App, input: SetUp): Promise<typeof staff.$inferSelect> {
  const faults: FieldFault[] = [];
  const currency = input.currency.toUpperCase();
  if (!isCurrency(currency))
    faults.push({
      pointer: '/currency',
      detail: `Base currency ${input.currency} is not known`,
      example: 'EUR',
    });
  if (!isZone(input.zone))
    faults.push({
      pointer: '/zone',
      detail: `Time zone ${input.zone} is not known`,
      example: 'Europe/Lisbon',
    });
  if (faults.length) throw invalid(faults);
  const password = await hashPassword(input.password);
  return app.transaction(() => {
    refuseSecondSetUp(app);
    beginProgramme(app, {
      name: input.merchant.trim(),
      contact: input.contact.trim(),
      base: currency,
      zone: input.zone,
      debtorName: input.merchant.trim(),
      demo: input.tryOut,
      clockAt: input.tryOut ? app.clock.now() : null,
    });
    const id = newId('staff');
    addPerson(app, {
      id,
      name: input.owner.trim(),
      email: emailKey(input.email),
      role: 'owner',
      password,
      createdAt: app.clock.now(),
    });
    touch(app, 'records');
    record(app, { kind: 'staff', id }, 'programme-set-up', {
      subject: 'programme',
      before: null,
      after: {
        name: input.merchant.trim(),
        base: currency,
        zone: input.zone,
      },
    });
    return app.db.select().from(staff).where(eq(staff.id, id)).get()!;
  });
}
