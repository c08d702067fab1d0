import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { QueryOf } from '../../contract/endpoint';
import { exportEarnings, listEarnings, readEarning, sumEarnings } from '../../contract/portal/portal';
import { commissionStates } from '../../core/ledger/commission';
import type { Id } from '../../core/text/id';
import { useAddress } from '../kit/address';
import { addressOf } from '../kit/api';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { Choice } from '../kit/choice';
import { Dialog, DialogFoot } from '../kit/dialog';
import { Headed } from '../kit/layout';
import { useList } from '../kit/lists';
import { Period } from '../kit/period';
import { Empty, Failed, Skeleton } from '../kit/place';
import { State } from '../kit/state';
import { Day, Money } from '../kit/text';
import { Working } from '../kit/working';
import { useLooking } from './base';

/** A figure that a phone has no room for. */
const wide = 'figure hidden sm:table-cell';

type Asked = QueryOf<typeof exportEarnings>;

/** What is asked for by the address: of which days, in which state. */
function askedIn(address: Address): Asked {
  const state = commissionStates.find((s) => s === address.get('state'));
  const [from, to] = [address.get('from'), address.get('to')];
  return { ...(state ? { state } : {}), ...(from ? { from } : {}), ...(to ? { to } : {}) };
}

type Address = ReturnType<typeof useAddress>;

/** Own orders and commissions over a time, with their sums by state, each with its working. */
export function Earnings() {
  const address = useAddress();
  const asked = askedIn(address);
  const list = useList(listEarnings, asked);
  const [opened, setOpened] = useState<Id<'commission'> | null>(null);
  const looking = useLooking();
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <Headed className="flex-wrap gap-x-6 gap-y-2">
        <div>
          <h1>Earnings</h1>
          <Sentence address={address} asked={asked} />
        </div>
        {!looking && (
          <a className="link" href={addressOf(exportEarnings, {}, asked)} download>
            CSV
          </a>
        )}
      </Headed>
      <SumsByState asked={asked} onPick={(state) => address.set('state', state)} />
      {list.loading && list.rows.length === 0 && <Skeleton />}
      {!list.loading && list.rows.length === 0 && <NoEarnings narrowed={Object.keys(asked).length > 0} />}
      {list.rows.length > 0 && (
        <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Earnings">
          <table className="mt-3 table">
            <thead>
              <tr>
                <th>Sold</th>
                <th>Product</th>
                <th className={wide}>Value</th>
                <th className="figure">Commission</th>
                <th>State</th>
                <th className={wide}>Clears</th>
                <th className="hidden sm:table-cell" />
              </tr>
            </thead>
            <tbody>
              {list.rows.map((r) => (
                <tr key={r.id} data-open="" onClick={() => setOpened(r.id)}>
                  <td>
                    <Day at={r.soldAt} />
                  </td>
                  <td className="max-sm:whitespace-normal!">
                    <button
                      type="button"
                      className="text-left sm:pointer-events-none"
                      onClick={(e) => {
                        e.stopPropagation();
                        setOpened(r.id);
                      }}
                    >
                      {r.kind === 'commission' ? (
                        r.products
                      ) : (
                        <>
                          {r.kind === 'referral' ? 'Referral share' : 'Co-owner share'} ·{' '}
                          <span className="text-ink3">{r.products}</span>
                        </>
                      )}
                    </button>
                  </td>
                  <td className={wide}>
                    <Money value={r.value} />
                  </td>
                  <td className="figure">
                    <Money value={r.left} />
                    {r.left.amount !== r.granted.amount && (
                      <span className="text-ink3 max-sm:hidden">
                        {' '}
                        of <Money value={r.granted} />
                      </span>
                    )}
                  </td>
                  <td>
                    <State is={r.state} />
                  </td>
                  <td className={wide}>
                    <Day at={r.clearsAt} />
                  </td>
                  <td className="hidden sm:table-cell">
                    <button
                      type="button"
                      className="link"
                      onClick={(e) => {
                        e.stopPropagation();
                        setOpened(r.id);
                      }}
                    >
                      how it came about
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {list.onEnd && (
        <Button className="mt-3" onClick={list.onEnd}>
          Earlier
        </Button>
      )}
      {opened && <EarningDialog id={opened} onClose={() => setOpened(null)} />}
    </>
  );
}

/** Of which days, and in which state, as a sentence. */
function Sentence({ address, asked }: { address: Address; asked: Asked }) {
  return (
    <p className="text-ink2">
      <Choice
        label="State"
        value={asked.state ?? ''}
        options={[['', 'In any state'], ...commissionStates.map((s) => [s, capital(stateWord(s))] as const)]}
        onChange={(v) => address.set('state', v)}
      />
      , sold{' '}
      <Period
        from={address.get('from')}
        to={address.get('to')}
        any
        onChange={(from, to) => address.put({ from, to })}
      />
    </p>
  );
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const stateWord = (state: string) => state.replace('-', ' ');

function NoEarnings({ narrowed }: { narrowed: boolean }) {
  return (
    <div className="mt-3">
      {narrowed ? (
        <Empty title="Nothing in these days">Choose other days, or any state.</Empty>
      ) : (
        <Empty title="Nothing earned yet">
          Every sale that a visitor from you brings appears here, with how its amount came about.
        </Empty>
      )}
    </div>
  );
}

/** What the days brought by state; a state leads to what is in it. */
function SumsByState({ asked, onPick }: { asked: Asked; onPick: (state: string) => void }) {
  const { state, ...days } = asked;
  const sums = useQuery(asking(sumEarnings, { query: days })).data;
  if (!sums || sums.states.length === 0) return null;
  return (
    <table className="mt-3 table max-w-[520px]" aria-label="Sums by state">
      <thead>
        <tr>
          <th>State</th>
          <th className="figure">Sales</th>
          <th className="figure">Granted</th>
          <th className="figure">Yours</th>
        </tr>
      </thead>
      <tbody>
        {sums.states.map((row) => (
          <tr key={row.state} className={row.state === state ? 'bg-copper-wash' : ''}>
            <td>
              <button type="button" onClick={() => onPick(row.state === state ? '' : row.state)}>
                <State is={row.state} />
              </button>
            </td>
            <td className="figure">{row.count.toLocaleString('en-GB')}</td>
            <td className="figure">
              <Money value={row.granted} />
            </td>
            <td className="figure">
              <Money value={row.left} />
            </td>
          </tr>
        ))}
        <tr className="border-t border-ink font-semibold">
          <td>Together</td>
          <td className="figure">{sums.total.count.toLocaleString('en-GB')}</td>
          <td className="figure">
            <Money value={sums.total.granted} />
          </td>
          <td className="figure">
            <Money value={sums.total.left} />
          </td>
        </tr>
      </tbody>
    </table>
  );
}

function EarningDialog({ id, onClose }: { id: Id<'commission'>; onClose: () => void }) {
  const query = useQuery(asking(readEarning, { params: { id } }));
  return (
    <Dialog
      wide
      open
      onClose={onClose}
      title="How this amount came about"
      about={
        query.data && (
          <>
            {query.data.row.products}, sold <Day at={query.data.row.soldAt} />
            {query.data.row.declined && (
              <span className="text-madder"> · declined: {query.data.row.declined}</span>
            )}
          </>
        )
      }
    >
      {query.isPending && <Skeleton lines={5} />}
      {query.error && <Failed fault={query.error} />}
      {query.data && <Working working={query.data.working} />}
      <DialogFoot>
        <Button onClick={onClose}>Close</Button>
      </DialogFoot>
    </Dialog>
  );
}
