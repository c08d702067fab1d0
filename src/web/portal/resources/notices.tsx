import { News } from '../../kit/layout';
import { Day } from '../../kit/text';
import type { Resources } from './shown';

/** News and notes, the newest first. */
export function Notices({ notices }: { notices: Resources['notices'] }) {
  if (notices.length === 0) return null;
  return (
    <section className="mt-4" aria-label="News and notes">
      <h2>News and notes</h2>
      {notices.map((n) => (
        <News key={n.id}>
          <p>
            <b className="font-semibold">{n.title}</b>{' '}
            <span className="text-ink3">
              <Day at={n.at} />
              {n.product && <> · {n.product.name}</>}
            </span>
          </p>
          <p dir="auto" className="max-w-[66ch] break-words whitespace-pre-wrap">
            {n.body}
          </p>
        </News>
      ))}
    </section>
  );
}
