import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { readCoverage, type CoverageOut, type CoverageRow } from '../../../../../contract/equip/coverage';
import { creativeKinds, kindWords } from '../../../../../core/material/lists';
import { sizeName, usualSizes } from '../../../../../core/material/sizes';
import { asking } from '../../../../kit/asking';
import { EndMark } from '../../../../kit/end-mark';
import { useKeys } from '../../../../kit/keys';
import { Split } from '../../../../kit/layout';
import { Empty, Failed, Heading, Margin, Skeleton } from '../../../../kit/place';
import { Box, ofRow } from './box';

/** What material there is for each product, and what is missing: every gap leads to what fills it. */
export default function CoveragePage() {
  const query = useQuery(asking(readCoverage));
  const navigate = useNavigate();
  const keys = useKeys([{ key: 'Escape', what: 'back to the book', act: () => void navigate('/creatives') }]);
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  return (
    <Split>
      <section className="min-w-0 flex-1 overflow-auto" aria-label="Coverage" tabIndex={0}>
        <Heading
          title="Coverage"
          acts={
            <Link className="link-level" to="/creatives">
              Back to the book
            </Link>
          }
        >
          What affiliates find for each product now; an empty box is a size that is missing.
        </Heading>
        <div className="px-5 pb-6">
          {query.data.rows.length > 1 ? (
            <CoverageTable coverage={query.data} />
          ) : (
            <Empty title="No product is on sale">Put one live, then see here what it lacks.</Empty>
          )}
        </div>
      </section>
      <Margin width="w-[300px]">
        <Lines coverage={query.data} />
      </Margin>
      {keys}
    </Split>
  );
}

const others = creativeKinds.filter((kind) => kind !== 'banner');

/** Rows that are drawn before somebody looks further. */
const firstRows = 100;

function CoverageTable({ coverage }: { coverage: CoverageOut }) {
  const [drawn, setDrawn] = useState(firstRows);
  return (
    <>
      <table className="table">
        <thead>
          <tr>
            <th>Product</th>
            {usualSizes.map((size) => (
              <th key={sizeName(size)} className="text-center!">
                <span className="block text-[11px] font-normal">{size.width}</span>
                <span className="block text-[11px] font-normal">{size.height}</span>
              </th>
            ))}
            {others.map((kind) => (
              <th key={kind} className="figure">
                {kind === 'html' ? 'HTML' : kindWords[kind][1].replace('text links', 'text')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {coverage.rows.slice(0, drawn).map((row) => (
            <ProductRow key={row.product ?? 'programme'} row={row} />
          ))}
        </tbody>
      </table>
      {drawn < coverage.rows.length && <EndMark onSeen={() => setDrawn(drawn + firstRows)} />}
    </>
  );
}

function ProductRow({ row }: { row: CoverageRow }) {
  return (
    <tr>
      <td className="max-w-[180px]">{row.name}</td>
      {row.sizes.map((cell) => (
        <td key={cell.size} className="h-[52px]! text-center">
          <Box row={row} cell={cell} />
        </td>
      ))}
      {others.map((kind) => (
        <td key={kind} className="figure">
          <Count row={row} kind={kind} />
        </td>
      ))}
    </tr>
  );
}

function Count({ row, kind }: { row: CoverageRow; kind: (typeof others)[number] }) {
  const count = row.kinds[kind] ?? 0;
  if (count > 0)
    return <Link to={`/creatives?kind=${kind}${ofRow(row)}`}>{count.toLocaleString('en-GB')}</Link>;
  return (
    <Link
      className="link"
      to={`/creatives/new/${kind}?${ofRow(row).slice(1)}`}
      aria-label={`No ${kindWords[kind][0]} for ${row.name}, add one`}
    >
      none
    </Link>
  );
}

function Lines({ coverage }: { coverage: CoverageOut }) {
  if (coverage.missing.length === 0)
    return <p className="text-ink2">Beside sizes and kinds nothing is missing.</p>;
  return (
    <>
      <h2>Missing beside that</h2>
      <ul className="mt-1">
        {coverage.missing.map((line) => (
          <li
            key={line.text}
            className="flex items-baseline gap-2 border-b border-dotted border-rule py-[6px]"
          >
            <i aria-hidden className="mark translate-y-px text-ochre" />
            <span className="min-w-0 flex-1 break-words">{line.text}</span>
            <Link className="link" to={line.to}>
              {line.act}
            </Link>
          </li>
        ))}
      </ul>
    </>
  );
}
