import { useQuery } from '@tanstack/react-query';
import { readCreative, type CreativeOut, type CreativeRow } from '../../../../contract/equip/creatives';
import { readCreativeResults, type ResultsOut } from '../../../../contract/equip/results';
import { kindWords } from '../../../../core/material/lists';
import { counted } from '../../../../core/text/counted';
import type { Id } from '../../../../core/text/id';
import { sizeInWords } from '../../../../core/text/plain';
import { asking } from '../../../kit/asking';
import { Note } from '../../../kit/note';
import { Margin, Skeleton } from '../../../kit/place';
import { Day, Money, Small, Sums } from '../../../kit/text';
import { Planned } from '../../shared/planned';
import { Gaps } from './coverage/gaps';

/** The sheet of the piece that is looked at: what it is, what came of it, what is planned for it. */
export function SheetMargin({ id, row }: { id: Id<'creative'>; row: CreativeRow }) {
  const sheet = useQuery(asking(readCreative, { params: { id } })).data;
  const results = useQuery(asking(readCreativeResults, { params: { id } })).data;
  return (
    <Margin width="w-[318px]">
      <h2 className="break-words">{row.name}</h2>
      <p className="text-ink2">
        <Described row={row} />
      </p>
      <About row={row} sheet={sheet} />
      {results ? <Results results={results} /> : <Skeleton lines={4} />}
      {sheet && <Planned planned={sheet.planned} />}
      <Gaps first={row.products.map((p) => p.id)} />
    </Margin>
  );
}

function Described({ row: { kind, file, createdAt } }: { row: CreativeRow }) {
  const parts = file
    ? [
        file.width && file.height ? `${file.width} × ${file.height}` : '',
        `${file.format}, ${file.moving ? 'moving' : 'still'}`,
        sizeInWords(file.bytes),
        file.seconds === null ? '' : counted(file.seconds, 'second'),
      ]
    : [kindWords[kind][0]];
  return (
    <>
      {parts.filter(Boolean).join(' · ')} · since <Day at={createdAt} />
    </>
  );
}

/** For what, for whom, and where it leads. */
function About({ row, sheet }: { row: CreativeRow; sheet: CreativeOut | undefined }) {
  return (
    <div className="mt-2 space-y-1 text-ink2">
      <p>
        For {row.products.map((p) => p.name).join(', ') || 'the whole programme'};{' '}
        <span className="private">{row.audience}</span> may use it
        {row.subject && <>; on {row.subject}</>}.
      </p>
      {sheet && (
        <p className="break-all">
          {sheet.leads ? (
            <>
              Leads to{' '}
              <a href={sheet.leads} className="link" target="_blank" rel="noreferrer">
                {sheet.leads.replace(/^https?:\/\//, '')}
              </a>
            </>
          ) : (
            'Leads nowhere: its product has no page yet.'
          )}
        </p>
      )}
      {row.contradicts.map(({ says, stands }) => (
        <Note key={says} tone="refused">
          Its words say {says}; {stands}.
        </Note>
      ))}
      {sheet?.advice.map((said) => (
        <Note key={said}>{said}</Note>
      ))}
    </div>
  );
}

const share = (ppm: number) => (ppm / 10_000).toFixed(1);

/** What came of it, each figure with what it is of. */
export function Results({ results }: { results: ResultsOut }) {
  const { conversion, clicks, orders, commission, epc, affiliates, lastUsed, days } = results;
  return (
    <div className="mt-3">
      <Sums
        rows={[
          { label: `Clicks, ${days} days`, figure: clicks.toLocaleString('en-GB') },
          { label: 'Orders', figure: orders.toLocaleString('en-GB') },
          ...(results.renewals
            ? [{ label: 'Renewals of them', figure: results.renewals.toLocaleString('en-GB') }]
            : []),
          {
            label: 'Orders from 100 clicks',
            figure: conversion ? (
              <>
                <b className="font-semibold">{share(conversion.ppm)}</b>{' '}
                <Small>
                  {share(conversion.low)}–{share(conversion.high)}
                </Small>
              </>
            ) : (
              '—'
            ),
          },
          { label: 'Commission', figure: <Money value={commission} /> },
          { label: 'Commission of 100 clicks', figure: <Money value={epc} /> },
          { label: 'Used by', figure: counted(affiliates, 'affiliate') },
          { label: 'Last used', figure: lastUsed === null ? 'never' : <Day at={lastUsed} /> },
        ]}
      />
      {results.best.length > 0 && (
        <p className="mt-2 text-[12px] text-ink3">
          Most by{' '}
          <span className="private">
            {results.best.map((b) => `${b.name} (${b.clicks.toLocaleString('en-GB')})`).join(', ')}
          </span>
        </p>
      )}
    </div>
  );
}
