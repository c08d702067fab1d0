/** Oblique lines as the ground of a chart, as engraved. It stands among a chart's `defs`. @param strength of the lines, from 0 to 1 */
export function Hatch({ id, strength }: { id: string; strength: number }) {
  return (
    <pattern id={id} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <path d="M0 0V4" stroke="var(--color-ink)" strokeWidth=".8" opacity={strength} />
    </pattern>
  );
}
