import { Link } from 'react-router';
import type { FunnelOut } from '../../../../../contract/setup/funnels';
import { Said } from '../../../../kit/note';
import { Margin } from '../../../../kit/place';
import { Money, Sums } from '../../../../kit/text';

/** How many go down a funnel, and what a hundred purchases bring. @param opening the name of its opening product */
export function FunnelMargin({ funnel, opening }: { funnel: FunnelOut | null; opening: string }) {
  return (
    <Margin width="w-[290px]">
      <h2>Down the funnel</h2>
      {funnel ? (
        <Figures funnel={funnel} opening={opening} />
      ) : (
        <p className="text-ink2">Saved, it shows here how many take each offer, and what it pays.</p>
      )}
    </Margin>
  );
}

function Figures({ funnel, opening }: { funnel: FunnelOut; opening: string }) {
  return (
    <>
      <div className="mt-1">
        <Sums
          rows={[
            {
              label: opening,
              figure: `${funnel.openings.toLocaleString('en-GB')} orders`,
            },
            ...funnel.taken.map((t) => ({
              label: (
                <>
                  ↳ {t.name}
                  <br />
                  <span className="text-ink3">
                    {t.rate} to everybody · <Money value={t.value} />
                  </span>
                </>
              ),
              figure: `${t.orders.toLocaleString('en-GB')}${funnel.openings ? `, ${((t.orders / funnel.openings) * 100).toFixed(1)} %` : ''}`,
            })),
          ]}
        />
      </div>
      {funnel.per100 && (
        <div className="mt-4">
          <h3 className="font-semibold">A hundred purchases bring</h3>
          <Sums
            rows={[
              { label: 'With what followed them', figure: <Money value={funnel.per100.value} /> },
              {
                label: 'Commission',
                figure: (
                  <Money value={{ ...funnel.per100.commission, amount: -funnel.per100.commission.amount }} />
                ),
              },
              {
                label: 'Left, before fees, refunds and cost',
                figure: <Money value={funnel.per100.left} />,
                weight: 'sum',
              },
            ]}
          />
        </div>
      )}
      <Said gap={3}>
        A rate for one step alone is set in the{' '}
        <Link className="link" to="/rates">
          rate book
        </Link>
        , in the row beneath the opening product.
      </Said>
    </>
  );
}
