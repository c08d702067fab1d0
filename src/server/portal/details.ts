import { electronicFormatIBAN, isValidIBAN } from 'ibantools';
import type { FieldFault } from '../../contract/explain';
import { transferText } from '../../core/payouts/characters';
import type { Id } from '../../core/text/id';
import { asAffiliate, type Actor, type App } from '../ground/context';
import { invalid, Problem } from '../ground/http/problem';
import { record } from '../registers/access/audit';
import { askAgain } from '../registers/accounts/signin';
import { queue } from '../registers/outbox/queue';
import { affiliateById, maskedIban } from '../registers/people/record';
import { changeAffiliate } from '../registers/people/write';
import { theProgramme } from '../registers/programme/record';

/** Payout details as the affiliate keeps them. @param looking true: for staff, who see an account number with its middle hidden */
export function readDetails(app: App, affiliate: Id<'affiliate'>, looking = false) {
  const row = affiliateById(app, affiliate);
  return {
    holder: row.payeeHolder,
    iban: looking ? maskedIban(row.payeeIban) : row.payeeIban,
    address: row.payeeAddress,
    letters: row.newsletters,
    version: row.version,
  };
}

interface DetailsIn {
  holder: string;
  iban: string;
  address: string;
  version: number;
  password: string;
}

/** What of payout details no transfer could carry, and an IBAN whose check digits do not fit. */
function detailFaults(input: DetailsIn, iban: string): FieldFault[] {
  const faults: FieldFault[] = [];
  for (const [field, title, example] of [
    ['holder', 'Account holder', 'Mara Lindqvist-Okello'],
    ['address', 'Address', 'Rua do Forno 4, Barrancos'],
  ] as const) {
    const read = transferText(input[field]);
    if (!read.ok) faults.push({ pointer: `/${field}`, detail: `${title} ${read.why}`, example });
  }
  if (!isValidIBAN(iban))
    faults.push({
      pointer: '/iban',
      detail: 'IBAN: the check digits do not fit, so a digit is wrong, missing or swapped',
      example: 'PT50 0002 0123 1234 5678 9015 4',
    });
  return faults;
}

/**
 * Sets payout details: the password is asked for again, since an open browser is no proof of the person, and the person is told at the address that is
 * known, in case it was somebody else. @throws Problem `invalid` with every field at fault, `stale`, `too-many`
 */
export async function setDetails(
  app: App,
  actor: Actor,
  input: DetailsIn,
): Promise<ReturnType<typeof readDetails>> {
  const affiliate = asAffiliate(actor);
  const iban = electronicFormatIBAN(input.iban) ?? '';
  const faults = detailFaults(input, iban);
  if (faults.length) throw invalid(faults);
  await askAgain(app, {
    person: affiliateById(app, affiliate),
    password: input.password,
    field: 'password',
  });
  return app.transaction(() => {
    // hashing took a moment: what stands is read now
    const row = affiliateById(app, affiliate);
    if (row.version !== input.version)
      throw new Problem(
        'stale',
        'Your details were changed meanwhile, perhaps in another window. What you typed is kept in the form; compare and save again.',
        { current: readDetails(app, affiliate) },
      );
    changeAffiliate(app, affiliate, {
      payeeHolder: input.holder.trim(),
      payeeIban: iban,
      payeeAddress: input.address.trim(),
    });
    record(app, actor, 'payout-details-changed', {
      subject: affiliate,
      before: { holder: row.payeeHolder, iban: maskedIban(row.payeeIban) },
      after: { holder: input.holder.trim(), iban: maskedIban(iban) },
    });
    tellOfDetails(app, row, iban);
    return readDetails(app, affiliate);
  });
}

function tellOfDetails(app: App, row: ReturnType<typeof affiliateById>, iban: string): void {
  const { name, contact } = theProgramme(app);
  const was = row.payeeIban ? ` Before, it was the account ending in ${row.payeeIban.slice(-4)}.` : '';
  queue(app, {
    to: row.email,
    affiliate: row.id,
    kind: 'payout-details-changed',
    subject: 'Where we pay you was changed',
    body: `Hello ${row.name},\n\nyour payout details were changed just now: we pay to the account ending in ${iban.slice(-4)} from now on.${was} If it was not you, tell us at once: ${contact}\n\n${name}`,
  });
}
