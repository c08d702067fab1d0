/** The fields of reports that name something: the same name written in two ways is one. */
const named = ['order', 'payment', 'refund', 'lead', 'subscription'] as const;

/** A reference as it is compared: without white space around it, in Unicode's composed form (NFC). */
export const sameReference = (reference: string): string => reference.trim().normalize('NFC');

/** A report with its references as they are compared. Only fields that it has are touched. */
export function withReferences<T extends object>(report: T): T {
  const read = { ...report } as Record<string, unknown>;
  for (const field of named) {
    const value = read[field];
    if (typeof value === 'string') read[field] = sameReference(value);
  }
  return read as T;
}
