import { Link } from 'react-router';
import type { CoverageRow } from '../../../../../contract/equip/coverage';
import { createCreative } from '../../../../../contract/equip/creatives';
import { useMay } from '../../../roles';

/** What of the address names the product of a row. */
export const ofRow = (row: CoverageRow) => `&product=${row.product ?? 'programme'}`;

interface Props {
  row: CoverageRow;
  cell: CoverageRow['sizes'][number];
  /** how large it is drawn at most */
  most?: { width: number; height: number };
}

/** A size in its true proportion: solid where there is one, an empty outline where it is missing, which leads to adding it. */
export function Box({ row, cell, most = { width: 34, height: 40 } }: Props) {
  const may = useMay();
  const by = Math.min(most.width / cell.width, most.height / cell.height);
  const size = { width: Math.max(5, cell.width * by), height: Math.max(4, cell.height * by) };
  const there = cell.count > 0;
  const box = (
    <span
      aria-hidden
      className={`inline-block border align-middle ${there ? 'border-ink bg-ink' : 'border-dashed border-copper'}`}
      style={size}
    />
  );
  const label = `${cell.size} for ${row.name}: ${there ? cell.count : 'missing'}`;
  if (!there && !may(createCreative))
    return (
      <span role="img" aria-label={label} title={label}>
        {box}
      </span>
    );
  const page = there ? '/creatives?kind=banner&' : '/creatives/new/banner?';
  return (
    <Link
      to={`${page}size=${cell.width}x${cell.height}${ofRow(row)}`}
      aria-label={there ? label : `${label}, add one`}
      title={there ? label : `${label}; add one`}
    >
      {box}
    </Link>
  );
}
