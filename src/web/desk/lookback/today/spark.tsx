import { useId } from 'react';

interface Props {
  /** sliding means over 7 and 30 days, same length */
  short: (number | null)[];
  long: (number | null)[];
  label: string;
}

const width = 420;
const height = 30;

function path(values: (number | null)[], top: number): string {
  let drawn = '';
  values.forEach((v, i) => {
    if (v === null) return;
    const x = (i / Math.max(1, values.length - 1)) * width;
    drawn += `${drawn ? 'L' : 'M'}${x.toFixed(1)} ${(height - 2 - (v / top) * (height - 4)).toFixed(1)}`;
  });
  return drawn;
}

/** A trend: the 30-day window hatched below, the 7-day window as a line. */
export function Spark({ short, long, label }: Props) {
  const hatch = useId();
  const top = Math.max(1, ...short.map((v) => v ?? 0), ...long.map((v) => v ?? 0));
  const first = long.findIndex((v) => v !== null);
  const area =
    first < 0
      ? ''
      : `${path(long, top)}L${width} ${height}L${((first / Math.max(1, long.length - 1)) * width).toFixed(1)} ${height}Z`;
  return (
    <svg
      role="img"
      aria-label={label}
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      className="h-[30px] w-full"
    >
      <defs>
        <pattern id={hatch} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V4" stroke="#1C2430" strokeWidth=".7" opacity=".55" />
        </pattern>
      </defs>
      <path d={area} fill={`url(#${hatch})`} />
      <path
        d={path(short, top)}
        fill="none"
        stroke="#9A4A1F"
        strokeWidth="1.6"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
