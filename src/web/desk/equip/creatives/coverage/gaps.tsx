import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { readCoverage, type CoverageRow } from '../../../../../contract/equip/coverage';
import { pageShapes, sizeOfShape } from '../../../../../core/material/sizes';
import { asking } from '../../../../kit/asking';
import { Box, ofRow } from './box';

const shownRows = 3;
const most = { width: 18, height: 15 };

/** How many of the sizes and kinds in short a product lacks. */
const lacks = (row: CoverageRow): number =>
  sizesOf(row).filter((cell) => cell.count === 0).length +
  Number(!row.kinds['text-link']) +
  Number(!row.kinds.email);

const sizesOf = (row: CoverageRow) => pageShapes.flatMap((shape) => sizeOfShape(row.sizes, shape) ?? []);

/** What is missing in short: of the products of the piece that is looked at first, then of those that lack most. */
export function Gaps({ first }: { first: readonly string[] }) {
  const coverage = useQuery(asking(readCoverage)).data;
  if (!coverage) return null;
  const isFirst = (row: CoverageRow) => row.product !== null && first.includes(row.product);
  const rows = coverage.rows
    .filter((row) => row.product !== null)
    .sort((a, b) => Number(isFirst(b)) - Number(isFirst(a)) || lacks(b) - lacks(a))
    .slice(0, shownRows);
  if (rows.length === 0) return null;
  return (
    <section className="mt-4" aria-label="What is missing">
      <h2>What is missing</h2>
      <table className="mt-1 w-full text-[12px]">
        <thead>
          <tr className="border-b border-ink text-left">
            <th className="py-1 font-semibold">Product</th>
            {pageShapes.map((name) => (
              <th key={name} className="px-[2px] text-center font-normal">
                {name}
              </th>
            ))}
            <th className="pl-[6px] text-right font-normal">text</th>
            <th className="pl-[6px] text-right font-normal">mail</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <GapsOf key={row.product} row={row} />
          ))}
        </tbody>
      </table>
      <Link className="link mt-1 inline-block" to="/creatives/coverage">
        all products and sizes
      </Link>
      {coverage.missing.slice(0, 2).map((line) => (
        <p key={line.text} className="mt-1 flex items-baseline gap-2">
          <i aria-hidden className="mark translate-y-px text-ochre" />
          <span className="min-w-0 flex-1">
            {line.text}{' '}
            <Link className="link" to={line.to}>
              {line.act}
            </Link>
          </span>
        </p>
      ))}
    </section>
  );
}

function GapsOf({ row }: { row: CoverageRow }) {
  return (
    <tr className="border-b border-rule2">
      <td className="max-w-[84px] truncate py-[6px]" title={row.name}>
        {row.name}
      </td>
      {sizesOf(row).map((cell) => (
        <td key={cell.size} className="px-[2px] text-center">
          <Box row={row} cell={cell} most={most} />
        </td>
      ))}
      {(['text-link', 'email'] as const).map((kind) => (
        <td key={kind} className="pl-[6px] text-right">
          {row.kinds[kind] ? (
            row.kinds[kind].toLocaleString('en-GB')
          ) : (
            <Link className="link" to={`/creatives/new/${kind}?${ofRow(row).slice(1)}`}>
              none
            </Link>
          )}
        </td>
      ))}
    </tr>
  );
}
