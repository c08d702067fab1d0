import { useQuery } from '@tanstack/react-query';
import { compareOffer } from '../../../../contract/recruit/offers';
import { asking } from '../../../kit/asking';
import { Said } from '../../../kit/note';
import { Failed, Skeleton } from '../../../kit/place';
import { Money, Share } from '../../../kit/text';
import { type Offer } from './offer';

export function Comparison({ offer }: { offer: Offer }) {
  const query = useQuery(asking(compareOffer, { params: { id: offer.id } }, offer.version));
  if (query.isPending) return <Skeleton lines={4} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const { rows, rate, earning, fault } = query.data;
  return (
    <>
      <h2>Beside others in {offer.category}</h2>
      {fault && <p className="mt-1 text-ochre">{fault}</p>}
      {(rate || earning) && (
        <Said>
          {rate && (
            <>
              By rate you are{' '}
              <b className="text-ink">
                {rate.place} of {rate.of}
              </b>
              .{' '}
            </>
          )}
          {earning ? (
            <>
              By what 100 clicks earn,{' '}
              <b className="text-ink">
                {earning.place} of {earning.of}
              </b>
              .
            </>
          ) : (
            'Too few sales to compare what 100 clicks earn.'
          )}
        </Said>
      )}
      <table className="sums mt-2">
        <thead>
          <tr className="text-[12px] text-ink3">
            <th className="text-left font-normal">Offer</th>
            <th className="text-right font-normal">Rate</th>
            <th className="pl-3 text-right font-normal">100 clicks</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <tr key={i} className={r.own ? 'font-semibold' : ''}>
              <td>
                {r.own ? 'This offer' : r.programme}
                <span className="block text-[12px] font-normal text-ink3">{r.headline}</span>
              </td>
              <td className="text-right">
                <Share ppm={r.ratePpm} />
              </td>
              <td>
                <Money value={r.epc} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
