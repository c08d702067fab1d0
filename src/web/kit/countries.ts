import { getCodes } from 'country-list';

const names = new Intl.DisplayNames('en-GB', { type: 'region' });

/** A country by its English name. @param code ISO 3166-1, two capitals; a code that is none comes back as it is */
export function countryName(code: string): string {
  return /^[A-Z]{2}$/.test(code) ? (names.of(code) ?? code) : code;
}

/** Countries as choices, sorted by name. */
export const countryChoices = (codes: readonly string[]) =>
  codes.map((code) => [code, countryName(code)] as const).sort((a, b) => a[1].localeCompare(b[1], 'en'));

let all: ReturnType<typeof countryChoices> | undefined;

/** All countries of ISO 3166-1 to choose one from, and Kosovo, which has no code there; by name, made when first asked for. */
export const allCountries = () => (all ??= countryChoices([...getCodes(), 'XK']));
