import { Link } from 'react-router';
import { DottedItem } from '../../../kit/dotted';
import { Said, Wrong } from '../../../kit/note';
import { Margin } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Day, Share, Sums } from '../../../kit/text';
import { partWords } from '../../shared/evidence-words';
import { type ApplicationView } from './decision';

export function EvidenceMargin({ application }: { application: ApplicationView }) {
  const e = application.evidence;
  return (
    <Margin>
      <h2>Evidence</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Cleared sales', figure: e.cleared },
            { label: 'Tenure', figure: e.tenure },
          ]}
        />
      </div>
      <h2 className="mt-4">Standing</h2>
      {e.standing ? (
        <div className="mt-1">
          <Sums
            rows={[
              ...e.standing.parts.map((p) => ({
                label: partWords[p.part] ?? p.part,
                figure: `${p.points} of ${p.of}`,
              })),
              { label: 'Standing, of 100', figure: e.standing.points, weight: 'sum' as const },
            ]}
          />
        </div>
      ) : (
        <Said>No record yet.</Said>
      )}
      {e.claims.length > 0 && (
        <>
          <h2 className="mt-4">Claims beside the record</h2>
          <div className="mt-1">
            <Sums
              rows={[
                ...e.claims
                  .slice(0, 4)
                  .map((c) => ({ label: `“${c.text}”`, figure: c.count.toLocaleString('en-GB') })),
                { label: 'Cleared sales', figure: e.cleared },
              ]}
            />
          </div>
          {e.unborne && <Wrong>A large audience, time enough to show it, and next to no sale.</Wrong>}
        </>
      )}
      <h2 className="mt-4">Refunds</h2>
      {e.sales === 0 ? (
        <Said>No record yet: no sale of theirs has passed its refund window.</Said>
      ) : (
        <div className="mt-1">
          <Sums
            rows={[
              { label: 'Refunded of sold', figure: `${e.refunds} of ${e.sales}` },
              { label: 'Shrunk towards 5 % (weight 40)', figure: `(${e.refunds}+2) ÷ ${e.sales + 40}` },
              {
                label: 'Refund rate',
                figure: (
                  <span className={e.aboveLine ? 'text-madder' : ''}>
                    <Share ppm={e.refundRate} />
                  </span>
                ),
                weight: 'sum',
              },
            ]}
          />
        </div>
      )}
      {e.aboveLine && (
        <p className="mt-2 text-madder">
          Above your line of <Share ppm={e.line} />.
        </p>
      )}
      {e.registry && (
        <>
          <h2 className="mt-4">At the registry</h2>
          <div className="mt-1">
            <Sums
              rows={[
                {
                  label: (
                    <Link className="link" to={`/prospects/${e.registry.id}`}>
                      {e.registry.id}
                    </Link>
                  ),
                  figure: `since ${e.registry.since}`,
                },
                { label: 'Cleared, all programmes', figure: e.registry.cleared },
                { label: 'Refund rate', figure: <Share ppm={e.registry.refundRate} /> },
              ]}
            />
          </div>
          {e.registry.vouched && <p className="mt-1 text-verdigris">Vouched for: {e.registry.vouched}.</p>}
        </>
      )}
      <h2 className="mt-4">Earlier applications</h2>
      {e.earlier.length === 0 ? (
        <Said>None.</Said>
      ) : (
        <ul>
          {e.earlier.map((x, i) => (
            <DottedItem key={i} apart>
              <span>
                <Day at={x.at} /> · {x.product ?? 'whole programme'}
              </span>
              <State is={x.state} />
            </DottedItem>
          ))}
        </ul>
      )}
    </Margin>
  );
}
