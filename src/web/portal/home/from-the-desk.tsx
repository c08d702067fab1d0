import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { readResources } from '../../../contract/recruit/offers';
import { asking } from '../../kit/asking';
import { Day, Small } from '../../kit/text';
import { usePortalBase } from '../base';

/** The newest of news and notes, and the way to the others. */
export function FromTheDesk() {
  const base = usePortalBase();
  const notices = useQuery(asking(readResources)).data?.notices ?? [];
  const [newest] = notices;
  if (!newest) return null;
  return (
    <section aria-labelledby="desk">
      <h2 id="desk">From the desk</h2>
      <p className="mt-1">
        <b className="font-semibold">{newest.title}</b>{' '}
        <Small>
          <Day at={newest.at} />
        </Small>
      </p>
      <p dir="auto" className="line-clamp-4 break-words whitespace-pre-wrap text-ink2">
        {newest.body}
      </p>
      <Link className="link" to={`${base}/resources`}>
        {notices.length > 1 ? `all ${notices.length} notes` : 'resources'}
      </Link>
    </section>
  );
}
