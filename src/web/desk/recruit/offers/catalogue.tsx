import { useState } from 'react';
import { toast } from 'sonner';
import { answerReviewer } from '../../../../contract/recruit/offers';
import { formatAge } from '../../../../core/calendar/format';
import { useAct } from '../../../kit/act';
import { Button } from '../../../kit/button';
import { Hint } from '../../../kit/note';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import { Day, Moment } from '../../../kit/text';
import { useMay } from '../../roles';
import { entryWords } from './entry';
import { type Offer } from './offer';

/** The entry in the catalogue: where it stands, since when, and what was said. */
export function Catalogue({ offer, registry }: { offer: Offer; registry: boolean }) {
  const { now } = useProgramme();
  const may = useMay();
  const [text, setText] = useState('');
  const answer = useAct(answerReviewer, {
    done: () => {
      setText('');
      toast('Sent to the reviewer');
    },
  });
  if (!registry) return null;
  return (
    <section className="mt-5" aria-label="Catalogue">
      <h2>In the registry’s catalogue</h2>
      <p className="mt-1 flex gap-3">
        <State is={offer.entry} word={entryWords[offer.entry]} />
        {offer.entryAt !== null && offer.entry !== 'none' && (
          <span className="text-ink2">
            {offer.entry === 'submitted' ? (
              <>waiting for {formatAge(offer.submittedAt ?? offer.entryAt, now)}</>
            ) : (
              <>
                since <Day at={offer.entryAt} />
              </>
            )}
          </span>
        )}
        {offer.fault && <span className="text-ochre">{offer.fault}</span>}
      </p>
      <ul>
        {offer.words.map((w) => (
          <li
            key={w.id}
            className={`border-b border-dotted border-rule py-2 ${w.from === 'merchant' ? 'pl-6' : ''}`}
          >
            <Hint>
              {w.by}, <Moment at={w.at} />
            </Hint>
            <p dir="auto" className="max-w-[66ch] whitespace-pre-wrap">
              {w.text}
            </p>
          </li>
        ))}
      </ul>
      {offer.entry === 'question' && may(answerReviewer) && (
        <form
          className="mt-2"
          onSubmit={(e) => {
            e.preventDefault();
            answer.mutate({ params: { id: offer.id }, body: { text } });
          }}
        >
          <textarea
            aria-label="Answer to the reviewer"
            rows={3}
            required
            minLength={2}
            maxLength={2000}
            value={text}
            onChange={(e) => setText(e.target.value)}
            placeholder="We send to the whole of Europe and pay for returns."
            className="w-full max-w-[66ch] rounded-sm border border-rule px-2 py-1"
          />
          <div>
            <Button type="submit" look="main" busy={answer.isPending}>
              Answer
            </Button>
          </div>
        </form>
      )}
    </section>
  );
}
