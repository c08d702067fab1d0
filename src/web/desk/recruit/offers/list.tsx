import { Apart } from '../../../kit/layout';
import { Said } from '../../../kit/note';
import { State } from '../../../kit/state';
import { entryWords } from './entry';
import { type Offer } from './offer';

/** The pages, each with where it stands. */
export function OfferList({
  setNews,
  news,
  rows,
  id,
  show,
}: {
  setNews: (on: boolean) => void;
  news: boolean;
  rows: Offer[];
  id: string | null;
  show: (to: string | null) => void;
}) {
  return (
    <section
      className="flex w-[290px] shrink-0 flex-col overflow-auto border-r border-rule px-4 pt-3"
      tabIndex={0}
      aria-label="Offer pages"
    >
      <Apart>
        <h1>Offer pages</h1>
        <button type="button" className="link" onClick={() => setNews(!news)}>
          {news ? 'Pages' : 'News'}
        </button>
      </Apart>
      <Said>What affiliates read before they apply.</Said>
      <ul className="-mx-4 mt-3">
        {rows.map((r) => (
          <li
            key={r.id}
            className={`border-b border-rule2 ${r.id === id && !news ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
          >
            <button
              type="button"
              aria-current={r.id === id && !news}
              onClick={() => show(r.id)}
              className="block w-full px-4 py-2 text-left"
            >
              <b className="block truncate font-semibold">{r.headline}</b>
              <span className="flex justify-between text-[12px] text-ink3">
                <State is={r.live ? 'live' : 'draft'} word={r.live ? 'open' : 'draft'} />
                <State is={r.entry} word={entryWords[r.entry]} />
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
