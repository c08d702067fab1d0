import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { readMissing } from '../../../../contract/lookback/today';
import { asking } from '../../../kit/asking';
import { DottedItem } from '../../../kit/dotted';

/** What the programme still needs before it goes live, in the order to do it; nothing where all is there. */
export function BeforeLive() {
  const missing = useQuery(asking(readMissing));
  if (!missing.data?.rows.length) return null;
  return (
    <section className="mt-5" aria-label="Missing before going live">
      <h2>Before going live</h2>
      <ol className="mt-1">
        {missing.data.rows.map((m, i) => (
          <DottedItem key={m.text}>
            <Link className="link" to={m.to}>
              {i + 1}. {m.text}
            </Link>
          </DottedItem>
        ))}
      </ol>
    </section>
  );
}
