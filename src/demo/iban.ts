import { composeIBAN } from 'ibantools';

/** An account number that is valid in form and belongs to no one: zeros for the bank, a running number for the account. */
export function madeUpIban(n: number): string {
  return composeIBAN({ countryCode: 'DE', bban: `00000000${String(7_000_000 + n * 37).padStart(10, '0')}` })!;
}
