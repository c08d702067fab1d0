import { useState } from 'react';
import { Link } from 'react-router';
import { timingWords } from '../../../../core/ledger/timing';
import { countryName } from '../../../kit/countries';
import { Sheet } from '../../../kit/layout';
import { Note } from '../../../kit/note';
import { Facts } from '../../../kit/place';
import { State } from '../../../kit/state';
import { Day, Moment } from '../../../kit/text';
import { PracticesOf } from '../../shared/practices-of';
import type { ApplicationView } from './decision';

export function ApplicationSheet({ application }: { application: ApplicationView }) {
  return (
    <Sheet tabIndex={0} aria-label={`Application of ${application.name}`}>
      <Head application={application} />
      <ApplicationFacts application={application} />
      {application.evidence.mismatch && (
        <Note className="mb-3">Does not fit: {application.evidence.mismatch}.</Note>
      )}
      <SamePerson application={application} />
      <h2>Note</h2>
      <p
        dir="auto"
        className="mt-2 max-w-[66ch] font-serif text-[14.5px] leading-[1.55] break-words whitespace-pre-wrap"
      >
        {application.note || <span className="text-ink3">No note.</span>}
      </p>
      <PracticesPart application={application} />
      <Questions application={application} />
      {application.rule && (
        <section className="mt-4" aria-label="Rule">
          <h2>
            {application.decidedAt ? 'Decided by a screening rule' : 'Left to a person by a screening rule'}
          </h2>
          <p className="mt-1">{application.rule.sentence}</p>
          <p className="text-ink3">
            {application.rule.facts.map((f) => `${f.label}: ${f.value}`).join(' · ')}
          </p>
        </section>
      )}
      <Alike application={application} />
      <div className="mt-4 border-y border-rule py-[10px] text-ink2">
        <b className="text-ink">If approved:</b>{' '}
        <span className="private">
          {application.ifApproved} {application.atSaleRisk}
        </span>
      </div>
    </Sheet>
  );
}

/** Which practices it means to use, and what is answered to each. */
function PracticesPart({ application }: { application: ApplicationView }) {
  const { practices, practicesAsked, affiliate, name, id } = application;
  if (practices.length === 0 && !practicesAsked) return null;
  return (
    <section className="mt-4" aria-label="Ways of promoting">
      <h2>Ways of promoting</h2>
      <PracticesOf
        whose={{ affiliate, name, application: id }}
        practices={practices}
        asked={practicesAsked}
      />
    </section>
  );
}

/** What was asked before deciding, and the answers. */
function Questions({ application }: { application: ApplicationView }) {
  if (!(application.questions.length > 0)) return null;
  return (
    <section className="mt-4" aria-label="Questions">
      <h2>Asked before deciding</h2>
      <ul>
        {application.questions.map((q) => (
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
function SamePerson({ application }: { application: ApplicationView }) {
  if (!(application.evidence.same.length > 0)) return null;
  return (
    <Note tone="refused" className="mb-3">
      {application.evidence.same.map((s, i) => (
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
function ApplicationFacts({ application }: { application: ApplicationView }) {
  return (
    <Facts
      rows={[
        [
          'Sites',
          <span key="sites" className="private">
            {application.sites.map((x, i) => (
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
        ['Promotes by', application.channels || '—'],
        ['Country', countryName(application.country)],
        [
          'Address',
          <span key="address" className="private">
            {application.address || '—'}
          </span>,
        ],
        [
          'E-mail',
          <span key="mail" className="private">
            {application.email}
          </span>,
        ],
        [
          'Affiliate',
          <>
            <Link className="link" to={`/affiliates/${application.affiliate}`}>
              {application.evidence.tenure === 'not an affiliate yet'
                ? 'not yet one'
                : `for ${application.evidence.tenure}`}
            </Link>{' '}
            ·{' '}
            {application.evidence.earlier.length
              ? `${application.evidence.earlier.length} earlier`
              : 'never applied here before'}
          </>,
        ],
        ...(application.decidedAt
          ? [
              [
                'Decided',
                <>
                  <Moment at={application.decidedAt} />, by {application.decidedBy}
                  {application.timing ? `, ${timingWords[application.timing]}` : ''}
                  {application.reason ? `: ${application.reason}` : ''}
                </>,
              ] as [string, React.ReactNode],
            ]
          : []),
      ]}
    />
  );
}

/** Who wants to promote what, and since when. */
function Head({ application }: { application: ApplicationView }) {
  return (
    <div className="flex items-start justify-between gap-4">
      <div className="min-w-0">
        <h1 className="private break-words">{application.name}</h1>
        <div className="text-ink2">
          wants to promote <b className="text-ink">{application.product?.name ?? 'the whole programme'}</b> ·
          applied <Moment at={application.createdAt} />
        </div>
      </div>
      <State
        is={application.state}
        word={
          application.state === 'waiting'
            ? 'waiting on you'
            : application.state === 'asked'
              ? 'asked'
              : application.state
        }
      />
    </div>
  );
}

type AlikeNote = ApplicationView['evidence']['alike'][number];

function Marked({ words }: { words: AlikeNote['own'] }) {
  return (
    <p
      dir="auto"
      className="max-h-[220px] overflow-auto font-serif text-[13.5px] leading-[1.5] break-words whitespace-pre-wrap"
      tabIndex={0}
    >
      {words.map((p, i) =>
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
function Alike({ application }: { application: ApplicationView }) {
  const { alike, alikeMore } = application.evidence;
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
          <Marked words={shown.own} />
        </div>
        <div>
          <h3 className="mb-1 text-ink3">
            <Link className="link-lined" to={`/affiliates/${shown.affiliate}`}>
              {shown.name}
            </Link>
            , <Day at={shown.at} />, {shown.state}
          </h3>
          <Marked words={shown.theirs} />
        </div>
      </div>
    </section>
  );
}
