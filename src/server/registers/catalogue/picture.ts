import { createHash } from 'node:crypto';

/** A picture made from a product's code: rings as on a wheel, in the colours of the house, always the same for the same code. */
export function pictureOf(code: string, name: string): string {
  const hash = createHash('sha256').update(code).digest();
  const inks = ['#9A4A1F', '#1F6F63', '#3C5A78', '#7A5D0C'];
  const ink = inks[hash[0]! % inks.length]!;
  const rings = Array.from(
    { length: 5 },
    (_, i) =>
      `<circle cx="60" cy="60" r="${14 + i * 9 + (hash[i + 1]! % 5)}" fill="none" stroke="${ink}" stroke-width="${1 + (hash[i + 6]! % 4)}" stroke-dasharray="${hash[i + 11]! % 3 === 0 ? `${3 + (hash[i + 16]! % 6)} ${2 + (hash[i + 21]! % 4)}` : 'none'}"/>`,
  ).join('');
  const letter = (name.trim()[0] ?? code[0] ?? '?').toUpperCase().replace(/[<>&"']/g, '·');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 120" width="240" height="240"><rect width="120" height="120" fill="#FBFAF6"/>${rings}<circle cx="60" cy="60" r="13" fill="#FBFAF6"/><text x="60" y="66" text-anchor="middle" font-family="Georgia,serif" font-size="18" font-weight="600" fill="#1C2430">${letter}</text></svg>`;
}
