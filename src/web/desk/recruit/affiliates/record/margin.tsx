import { Link } from 'react-router';
import { sumOf } from '../../../../../core/money/amount';
import { Margin } from '../../../../kit/place';
import { Money, Share, Sums } from '../../../../kit/text';
import { type View } from './view';

/** Balance, figures and the places where more of it is. */
export function AffiliateMargin({ affiliate }: { affiliate: View }) {
  const { balances: b, figures: f } = affiliate;
  return (
    <Margin>
      <h2>Balance</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Held', figure: <Money value={b.held} /> },
            { label: 'Cleared', figure: <Money value={b.cleared} /> },
            { label: 'In a payout run', figure: <Money value={b.inRun} /> },
            { label: 'Owed', figure: <Money value={sumOf([b.held, b.cleared, b.inRun])} />, weight: 'sum' },
            { label: 'Paid out so far', figure: <Money value={b.paid} /> },
            { label: 'Exposure', figure: <Money value={b.exposure} /> },
          ]}
        />
      </div>
      <h2 className="mt-5">Figures</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Clicks', figure: f.clicks.toLocaleString('en-GB') },
            { label: 'Orders', figure: f.orders },
            { label: 'Conversion, orders ÷ clicks', figure: <Share ppm={f.conversion} /> },
            {
              label: 'Commission per 100 clicks',
              figure: f.epc === null ? '—' : <Money value={{ amount: f.epc, currency: b.held.currency }} />,
            },
            { label: 'Refunds', figure: f.refunds },
            { label: 'Share reversed', figure: <Share ppm={f.shareReversed} /> },
          ]}
        />
      </div>
      <p className="mt-4">
        <Link className="link" to={`/sales?affiliate=${affiliate.id}`}>
          All sales
        </Link>{' '}
        ·{' '}
        <Link className="link" to={`/ledger?affiliate=${affiliate.id}`}>
          journal
        </Link>{' '}
        ·{' '}
        <a className="link" href={`/as/${affiliate.id}`}>
          as they see it
        </a>
        {affiliate.prospect && (
          <>
            {' '}
            ·{' '}
            <Link className="link" to={`/prospects/${affiliate.prospect}`}>
              at the registry
            </Link>
          </>
        )}
      </p>
    </Margin>
  );
}
