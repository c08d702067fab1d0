import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  answerReviewer,
  compareOffer,
  createOffer,
  listOffers,
  removeOffer,
  showOffer,
  submitOffer,
} from '../../../../contract/recruit/offers';
import { listProducts } from '../../../../contract/setup/products';
import { formatAge } from '../../../../core/calendar/format';
import { useAct } from '../../../kit/act';
import { call } from '../../../kit/api';
import { Button } from '../../../kit/button';
import { Copy } from '../../../kit/copy';
import { useKeys } from '../../../kit/keys';
import { Hint } from '../../../kit/note';
import { Bar, Empty, Facts, Failed, Margin, Skeleton } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import { Day, Moment, Money, Share } from '../../../kit/text';
import { useMay } from '../../roles';
import { OfferForm } from './form';
import { Notices } from './notices';
import { type Offer } from './offer';

const entryWords = {
  none: 'not submitted',
  submitted: 'with the reviewer',
  question: 'the reviewer asks',
  listed: 'listed',
  refused: 'refused',
} as const;

/** Offer pages: what each says, where it stands in the catalogue, and how it compares. */
export default function Offers() {
  const [params, setParams] = useSearchParams();
  const may = useMay();
  const list = useQuery({ queryKey: ['offers'], queryFn: () => call(listOffers) });
  const products = useQuery({
    queryKey: ['products', 'all'],
    queryFn: () => call(listProducts, { query: { limit: 500 } }),
  });
  const [editing, setEditing] = useState<Offer | 'new' | null>(null);
  const rows = list.data?.rows ?? [];
  const id = params.get('id') ?? rows[0]?.id ?? null;
  const of = rows.find((r) => r.id === id) ?? null;
  const show = (to: string | null) => setParams(to ? { id: to } : {}, { replace: true });
  const open = useAct(showOffer, {
    done: (o) => toast(o.live ? 'The page is open to everybody' : 'The page is closed'),
  });
  const remove = useAct(removeOffer, {
    done: () => {
      show(null);
      toast('The page is removed');
    },
  });
  const submit = useAct(submitOffer, { done: () => toast('Submitted; the reviewer’s answer arrives here') });
  const news = params.get('news') !== null;
  const step = (by: number) => {
    const i = rows.findIndex((r) => r.id === id);
    const to = rows[Math.min(rows.length - 1, Math.max(0, i + by))];
    if (to) show(to.id);
  };
  const keys = useKeys([
    { key: 'j', what: 'next page', act: () => step(1) },
    { key: 'k', what: 'page before', act: () => step(-1) },
    {
      key: 'n',
      what: 'a new offer page',
      act: () => {
        if (may(createOffer)) setEditing('new');
      },
    },
    {
      key: 'e',
      what: 'change it',
      act: () => {
        if (of && may(createOffer)) setEditing(of);
      },
    },
  ]);
  if (list.isPending) return <Skeleton />;
  if (list.error) return <Failed fault={list.error} retry={() => void list.refetch()} />;
  return (
    <>
      <div className="flex min-h-0 flex-1">
        <section
          className="flex w-[290px] shrink-0 flex-col overflow-auto border-r border-rule px-4 pt-3"
          tabIndex={0}
          aria-label="Offer pages"
        >
          <div className="flex items-baseline justify-between">
            <h1>Offer pages</h1>
            <button type="button" className="link" onClick={() => setParams(news ? {} : { news: '1' })}>
              {news ? 'Pages' : 'News'}
            </button>
          </div>
          <p className="mt-[3px] text-ink2">What affiliates read before they apply.</p>
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
        {news ? (
          <Notices products={products.data?.rows ?? []} />
        ) : of === null ? (
          <section className="flex-1 bg-sheet p-6">
            <Empty title="No offer page yet">
              A page presents a product, or several that are nearly the same: what it is, what it pays now and
              what others earn with it.
            </Empty>
          </section>
        ) : (
          <>
            <section
              className="min-w-0 flex-1 overflow-auto bg-sheet px-[22px] py-[18px]"
              tabIndex={0}
              aria-label={of.headline}
            >
              <div className="flex items-start justify-between gap-4">
                <h1 className="min-w-0 break-words">{of.headline}</h1>
                <State is={of.live ? 'live' : 'draft'} word={of.live ? 'open' : 'draft'} />
              </div>
              <Facts
                rows={[
                  [
                    'Address',
                    <span key="a">
                      <a className="link" href={of.address} target="_blank" rel="noreferrer">
                        {of.address.replace(/^https?:\/\//, '')}
                      </a>{' '}
                      <Copy text={of.address} /> ·{' '}
                      <a
                        className="link"
                        href={`/api/v1/qr.svg?path=${encodeURIComponent(new URL(of.address).pathname)}`}
                        target="_blank"
                        rel="noreferrer"
                      >
                        QR
                      </a>
                    </span>,
                  ],
                  ['Products', of.names.join(', ')],
                  [
                    'Pays now',
                    <span key="rate" className="private">
                      {of.rate || 'nothing yet'}
                    </span>,
                  ],
                  [
                    '100 clicks earn',
                    of.epc ? (
                      <Money key="m" of={of.epc} />
                    ) : (
                      <span className="text-ink3">too few sales to say</span>
                    ),
                  ],
                  ['Category', of.category],
                  ['Language', of.language],
                ]}
              />
              <p
                dir="auto"
                className="private max-w-[66ch] font-serif text-[14.5px] leading-[1.55] whitespace-pre-wrap"
              >
                {of.reads}
              </p>
              {of.benefits.length > 0 && (
                <ul className="mt-2 list-disc pl-5">
                  {of.benefits.map((b) => (
                    <li key={b}>{b}</li>
                  ))}
                </ul>
              )}
              <Catalogue of={of} registry={list.data.registry} />
            </section>
            <Margin width="w-[360px]">
              <Comparison of={of} />
            </Margin>
          </>
        )}
      </div>
      {may(createOffer) && !news && (
        <Bar>
          <Button look={of ? 'quiet' : 'main'} keyName="N" onClick={() => setEditing('new')}>
            New page
          </Button>
          {of && (
            <>
              <Button keyName="E" onClick={() => setEditing(of)}>
                Change
              </Button>
              <Button
                busy={open.isPending}
                onClick={() =>
                  open.mutate({ params: { id: of.id }, body: { on: !of.live, version: of.version } })
                }
              >
                {of.live ? 'Close it' : 'Open it to everybody'}
              </Button>
              {list.data.registry &&
                (of.entry === 'none' || of.entry === 'refused' || of.entry === 'listed') && (
                  <Button
                    look="main"
                    busy={submit.isPending}
                    disabled={!of.live}
                    onClick={() => submit.mutate({ params: { id: of.id } })}
                  >
                    {of.entry === 'none' ? 'Submit to the catalogue' : 'Submit again'}
                  </Button>
                )}
              <Button busy={remove.isPending} onClick={() => remove.mutate({ params: { id: of.id } })}>
                Remove
              </Button>
            </>
          )}
        </Bar>
      )}
      {editing && (
        <OfferForm
          of={editing === 'new' ? null : editing}
          products={products.data?.rows ?? []}
          categories={list.data.categories}
          onClose={() => setEditing(null)}
          onSaved={(o) => {
            setEditing(null);
            show(o.id);
          }}
        />
      )}
      {keys}
    </>
  );
}

/** The entry in the catalogue: where it stands, since when, and what was said. */
function Catalogue({ of, registry }: { of: Offer; registry: boolean }) {
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
        <State is={of.entry} word={entryWords[of.entry]} />
        {of.entryAt !== null && of.entry !== 'none' && (
          <span className="text-ink2">
            {of.entry === 'submitted' ? (
              <>waiting for {formatAge(of.submittedAt ?? of.entryAt, now)}</>
            ) : (
              <>
                since <Day at={of.entryAt} />
              </>
            )}
          </span>
        )}
        {of.fault && <span className="text-ochre">{of.fault}</span>}
      </p>
      <ul>
        {of.words.map((w) => (
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
      {of.entry === 'question' && may(answerReviewer) && (
        <form
          className="mt-2"
          onSubmit={(e) => {
            e.preventDefault();
            answer.mutate({ params: { id: of.id }, body: { text } });
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

function Comparison({ of }: { of: Offer }) {
  const query = useQuery({
    queryKey: ['offers-others', of.id, of.version],
    queryFn: () => call(compareOffer, { params: { id: of.id } }),
  });
  if (query.isPending) return <Skeleton lines={4} />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const { rows, rate, earning, fault } = query.data;
  return (
    <>
      <h2>Beside others in {of.category}</h2>
      {fault && <p className="mt-1 text-ochre">{fault}</p>}
      {(rate || earning) && (
        <p className="mt-1 text-ink2">
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
        </p>
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
                <Money of={r.epc} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
