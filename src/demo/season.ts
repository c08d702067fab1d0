/** Busier before the holidays, quieter after, and at weekends. */
export function seasonOf(day: string): number {
  const month = day.slice(0, 7);
  const base = { '2026-11': 0.9, '2026-12': 1.35, '2027-01': 0.8, '2027-02': 1, '2027-03': 1.1 }[month] ?? 1;
  const weekday = new Date(`${day}T12:00:00Z`).getUTCDay();
  const holiday = day >= '2026-12-24' && day <= '2026-12-27' ? 0.4 : 1;
  return base * (weekday === 0 || weekday === 6 ? 1.2 : 1) * holiday;
}
