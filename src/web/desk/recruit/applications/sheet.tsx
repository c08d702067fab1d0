import { useState } from 'react';
import { Link } from 'react-router';
import { timingWords } from '../../../../core/ledger/timing';
import { countryName } from '../../../kit/countries';
import { Sheet } from '../../../kit/layout';
import { Note } from '../../../kit/note';
import { Facts } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Day, Moment } from '../../../kit/text';
import type { ApplicationView } from './decision';

export function ApplicationSheet({ of }: { of: ApplicationView }) {
  return (
    <Sheet tabIndex={0} aria-label={`Application of ${of.name}`}>
      <Head of={of} />
      <ApplicationFacts of={of} />
      {of.evidence.mismatch && <Note className="mb-3">Does not fit: {of.evidence.mismatch}.</Note>}
      <SamePerson of={of} />
      <h2>Note</h2>
      <p
        dir="auto"
        className="mt-2 max-w-[66ch] font-serif text-[14.5px] leading-[1.55] break-words whitespace-pre-wrap"
      >
        {of.note || <span className="text-ink3">No note.</span>}
      </p>
      <Questions of={of} />
      {of.rule && (
        <section className="mt-4" aria-label="Rule">
          <h2>{of.decidedAt ? 'Decided by a screening rule' : 'Left to a person by a screening rule'}</h2>
          <p className="mt-1">{of.rule.sentence}</p>
          <p className="text-ink3">{of.rule.facts.map((f) => `${f.label}: ${f.value}`).join(' · ')}</p>
        </section>
      )}
      <Alike of={of} />
      <div className="mt-4 border-y border-rule py-[10px] text-ink2">
        <b className="text-ink">If approved:</b>{' '}
        <span className="private">
          {of.ifApproved} {of.atSaleRisk}
        </span>
      </div>
    </Sheet>
  );
}

/** What was asked before deciding, and the answers. */
function Questions({ of }: { of: ApplicationView }) {
  if (!(of.questions.length > 0)) return null;
  return (
    <section className="mt-4" aria-label="Questions">
      <h2>Asked before deciding</h2>
      <ul>
        {of.questions.map((q) => (
          <li key={q.id} className="border-b border-dotted border-rule py-2">
            <p>
              <b className="font-semibold">{q.question}</b>{' '}
              <span className="text-ink3">
                {q.by}, <Moment at={q.at} />
              </span>
            </p>
            {q.answer === null ? (
              <p className="text-ink3">No answer yet.</p>
            ) : (
              <p dir="auto" className="font-serif break-words whitespace-pre-wrap">
                {q.answer}{' '}
                <span className="font-sans text-ink3">
                  <Moment at={q.answeredAt} />
                </span>
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Others who look like the same person. */
function SamePerson({ of }: { of: ApplicationView }) {
  if (!(of.evidence.same.length > 0)) return null;
  return (
    <Note tone="refused" className="mb-3">
      {of.evidence.same.map((s, i) => (
        <span key={s.affiliate}>
          {i > 0 && '; '}
          <Link className="link" to={`/affiliates/${s.affiliate}`}>
            {s.name}
          </Link>
          , {s.state}, has {s.why}
        </span>
      ))}
      .
    </Note>
  );
}

/** What the applicant says, and who decided. */
function ApplicationFacts({ of }: { of: ApplicationView }) {
  return (
    <Facts
      rows={[
        [
          'Sites',
          <span key="sites" className="private">
            {of.sites.map((x, i) => (
              <span key={x}>
                {i > 0 && ', '}
                <a
                  className="link"
                  href={/^https?:/.test(x) ? x : `https://${x}`}
                  target="_blank"
                  rel="noreferrer noopener"
                >
                  {x}
                </a>
              </span>
            ))}
          </span>,
        ],
        ['Promotes by', of.channels || '—'],
        ['Country', countryName(of.country)],
        [
          'Address',
          <span key="address" className="private">
            {of.address || '—'}
          </span>,
        ],
        [
          'E-mail',
          <span key="mail" className="private">
            {of.email}
          </span>,
        ],
        [
          'Affiliate',
          <>
            <Link className="link" to={`/affiliates/${of.affiliate}`}>
              {of.evidence.tenure === 'not an affiliate yet' ? 'not yet one' : `for ${of.evidence.tenure}`}
            </Link>{' '}
            ·{' '}
            {of.evidence.earlier.length
              ? `${of.evidence.earlier.length} earlier`
              : 'never applied here before'}
          </>,
        ],
        ...(of.decidedAt
          ? [
              [
                'Decided',
                <>
                  <Moment at={of.decidedAt} />, by {of.decidedBy}
                  {of.timing ? `, ${timingWords[of.timing]}` : ''}
                  {of.reason ? `: ${of.reason}` : ''}
                </>,
              ] as [string, React.ReactNode],
            ]
          : []),
      ]}
    />
  );
}

/** Who wants to promote what, and since when. */
function Head({ of }: { of: ApplicationView }) {
  return (
    <div className="flex items-start justify-between gap-4">
      <div className="min-w-0">
        <h1 className="private break-words">{of.name}</h1>
        <div className="text-ink2">
          wants to promote <b className="text-ink">{of.product?.name ?? 'the whole programme'}</b> · applied{' '}
          <Moment at={of.createdAt} />
        </div>
      </div>
      <State
        is={of.state}
        word={of.state === 'waiting' ? 'waiting on you' : of.state === 'asked' ? 'asked' : of.state}
      />
    </div>
  );
}

type AlikeNote = ApplicationView['evidence']['alike'][number];

function Marked({ of }: { of: AlikeNote['own'] }) {
  return (
    <p
      dir="auto"
      className="max-h-[220px] overflow-auto font-serif text-[13.5px] leading-[1.5] break-words whitespace-pre-wrap"
      tabIndex={0}
    >
      {of.map((p, i) =>
        p.shared ? (
          <mark key={i} className="bg-ochre-wash text-ink">
            {p.text}
          </mark>
        ) : (
          <span key={i}>{p.text}</span>
        ),
      )}
    </p>
  );
}

/** Notes of others that are nearly the same, side by side with the same parts marked. */
function Alike({ of }: { of: ApplicationView }) {
  const { alike, alikeMore } = of.evidence;
  const [at, setAt] = useState(0);
  const shown = alike[Math.min(at, alike.length - 1)];
  if (!shown) return null;
  return (
    <section className="mt-4" aria-label="Nearly the same notes">
      <h2>
        Nearly the same as{' '}
        {alike.length + alikeMore === 1 ? 'another note' : `${alike.length + alikeMore} other notes`}
      </h2>
      <p className="mt-1 flex flex-wrap gap-x-4">
        {alike.map((a, i) => (
          <button
            key={a.application}
            type="button"
            aria-pressed={i === at}
            className={`private ${i === at ? 'font-semibold' : 'link'}`}
            onClick={() => setAt(i)}
          >
            {a.name}, {a.likeness} %
          </button>
        ))}
        {alikeMore > 0 && <span className="text-ink3">and {alikeMore} more</span>}
      </p>
      <div className="mt-2 grid grid-cols-2 gap-4">
        <div>
          <h3 className="mb-1 text-ink3">This note</h3>
          <Marked of={shown.own} />
        </div>
        <div>
          <h3 className="mb-1 text-ink3">
            <Link className="link-lined" to={`/affiliates/${shown.affiliate}`}>
              {shown.name}
            </Link>
            , <Day at={shown.at} />, {shown.state}
          </h3>
          <Marked of={shown.theirs} />
        </div>
      </div>
    </section>
  );
}
