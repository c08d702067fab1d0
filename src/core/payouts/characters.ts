// letters that do not come apart into a plain one and a mark, and signs that banks write in another way
const written: Record<string, string> = {
  ß: 'ss',
  ẞ: 'SS',
  æ: 'ae',
  Æ: 'AE',
  œ: 'oe',
  Œ: 'OE',
  ø: 'o',
  Ø: 'O',
  đ: 'd',
  Đ: 'D',
  ð: 'd',
  Ð: 'D',
  þ: 'th',
  Þ: 'TH',
  ł: 'l',
  Ł: 'L',
  ı: 'i',
  ħ: 'h',
  Ħ: 'H',
  ŧ: 't',
  Ŧ: 'T',
  ŋ: 'n',
  Ŋ: 'N',
  ĸ: 'k',
  ſ: 's',
  '’': "'",
  '‘': "'",
  '´': "'",
  '`': "'",
  '"': "'",
  '“': "'",
  '”': "'",
  '„': "'",
  '–': '-',
  '—': '-',
  '‐': '-',
  _: '-',
  '&': '+',
  '\u00a0': ' ',
};

const basic = /^[A-Za-z0-9/\-?:().,'+ ]$/;
/** The same of a whole text: most need nothing written otherwise. */
const allBasic = /^[A-Za-z0-9/\-?:().,'+ ]*$/;

export type TransferText = { ok: true; value: string } | { ok: false; why: string };

/**
 * A name or an address as a transfer carries it: the Latin characters of the EPC’s guidance for SEPA (a–z A–Z 0–9 / - ? : ( ) . , ' + and space). Accents
 * are left off and a few signs written otherwise, as banks do; what has no such form is refused with the character.
 */
export function transferText(text: string): TransferText {
  const trimmed = text.trim();
  let value = allBasic.test(trimmed) ? trimmed : '';
  for (const character of value === '' ? trimmed.normalize('NFC') : '') {
    const plain = written[character] ?? character.normalize('NFD').replace(/\p{M}+/gu, '');
    if ([...plain].length === 0 || ![...plain].every((c) => basic.test(c)))
      return {
        ok: false,
        why: `holds “${shown(character)}”, which no transfer can carry: Latin letters, digits and / - ? : ( ) . , ' + only`,
      };
    value += plain;
  }
  if (value.startsWith('/') || value.endsWith('/') || value.includes('//'))
    return { ok: false, why: 'begins or ends with “/” or holds “//”, which no transfer can carry' };
  return { ok: true, value };
}

/** A text of our own as a transfer carries it: what has no form there is left out. */
export function asTransferText(text: string): string {
  return [...text]
    .map((c) => {
      const one = transferText(c);
      return c === ' ' ? ' ' : one.ok ? one.value : '';
    })
    .join('')
    .replace(/\s+/g, ' ')
    .trim();
}

const shown = (character: string) =>
  /[\p{C}\p{Z}]/u.test(character)
    ? `U+${character.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`
    : character;
