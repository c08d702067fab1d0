import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import {
  cancelRuleRehearsal,
  readRuleRehearsal,
  type RehearsalOfRules,
  type RuleRehearsalOut,
} from '../../../../contract/recruit/screening';
import { useAct } from '../../../kit/act';
import { asking } from '../../../kit/asking';
import { Button } from '../../../kit/button';
import { Note, Said } from '../../../kit/note';
import { Failed } from '../../../kit/place';
import { Day } from '../../../kit/text';
import { useMay } from '../../roles';

const wouldWords: Record<string, string> = {
  approved: 'approved',
  declined: 'declined',
  person: 'left to a person',
};
const many = (n: number) => n.toLocaleString('en-GB');

/** The last rehearsal of the rules: how far it is while it goes on, then what it found. It goes on while nobody looks. */
export function RuleRehearsal() {
  const found = useQuery({
    ...asking(readRuleRehearsal),
    refetchInterval: (q) => (q.state.data?.state === 'running' ? 500 : false),
  });
  if (found.error) return <Failed fault={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return null;
  const { state, result, outdated, done, total } = found.data;
  return (
    <section className="mt-6" aria-label="Rehearsal">
      {outdated && <Note className="mb-2">The rules are others by now: rehearse them again.</Note>}
      {state === 'running' && <UnderWay of={found.data} />}
      {state === 'cancelled' && (
        <p className="text-ink2">
          The rehearsal was stopped after {many(done)} of {many(total)} applications. Nothing was changed.
        </p>
      )}
      {state === 'failed' && (
        <p className="text-ink2">
          The rehearsal ended before it was done. Nothing was changed; rehearse again.
        </p>
      )}
      {state === 'done' && result && <Result of={result} at={found.data.at} />}
    </section>
  );
}

function UnderWay({ of: { done, total } }: { of: RuleRehearsalOut }) {
  const may = useMay();
  const queries = useQueryClient();
  const cancel = useAct(cancelRuleRehearsal, {
    done: (r) => queries.setQueryData(asking(readRuleRehearsal).queryKey, r),
  });
  return (
    <>
      <h2>Rehearsal</h2>
      <div className="mt-1 flex items-center gap-3">
        <progress aria-label="Progress" className="h-2 w-[420px]" value={total ? done / total : 0} max={1} />
        {may(cancelRuleRehearsal) && (
          <Button busy={cancel.isPending} onClick={() => cancel.mutate({})}>
            Cancel
          </Button>
        )}
      </div>
      <Said role="status">
        {total ? `${many(done)} of ${many(total)} applications judged` : 'Reading the applications'}
      </Said>
    </>
  );
}

/** What the rules, as if all were on, would have done with past applications, beside how those turned out. */
function Result({
  of: { rows, changes, applications, changesMost },
  at,
}: {
  of: RehearsalOfRules;
  at: number;
}) {
  if (applications === 0)
    return <p className="text-ink2">No application was decided yet, so there is nothing to rehearse on.</p>;
  return (
    <>
      <h2>Rehearsal over {many(applications)} decided applications</h2>
      <p className="text-ink2">
        As if every rule were on, judged by what was known when each was made. Nothing is changed. As of{' '}
        <Day at={at} />.
      </p>
      <div
        className="overflow-x-auto"
        tabIndex={0}
        role="region"
        aria-label="What each rule would have decided"
      >
        <table className="mt-2 table">
          <thead>
            <tr>
              <th>Rule</th>
              <th className="figure">Would decide</th>
              <th className="figure">Approved then</th>
              <th className="figure">Declined then</th>
              <th className="figure">Active now</th>
              <th className="figure">Ended, paused</th>
              <th className="figure">Blocked</th>
              <th className="figure">Refunds of sales</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r, i) => (
              <tr key={r.rule ?? 'none'}>
                <td className="whitespace-normal!">
                  {r.rule === null ? (
                    <span className="text-ink3">{r.sentence}</span>
                  ) : (
                    <>
                      <span className="text-ink3">{i + 1}</span> {r.sentence}
                    </>
                  )}
                </td>
                <td className="figure font-semibold">{many(r.total)}</td>
                <td className="figure">{many(r.approved)}</td>
                <td className="figure">{many(r.declined)}</td>
                <td className="figure">{many(r.active)}</td>
                <td className="figure">{many(r.ended + r.paused)}</td>
                <td className={`figure ${r.blocked ? 'text-madder' : ''}`}>{many(r.blocked)}</td>
                <td className="figure">{r.sales ? `${many(r.refunds)} of ${many(r.sales)}` : '—'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <h2 className="mt-5">Whose outcome would differ</h2>
      {changes.length === 0 ? (
        <p className="text-ink2">Nobody’s: where a rule would have decided, a person decided the same.</p>
      ) : (
        <>
          <table className="mt-1 table">
            <thead>
              <tr>
                <th>Applied</th>
                <th>Applicant</th>
                <th>Was</th>
                <th>Would be</th>
                <th>Rule</th>
                <th>Now</th>
                <th className="figure">Refunds of sales</th>
              </tr>
            </thead>
            <tbody>
              {changes.map((c) => (
                <tr key={c.application}>
                  <td>
                    <Day at={c.at} />
                  </td>
                  <td>
                    <Link className="link private" to={`/applications/${c.application}?state=${c.decided}`}>
                      {c.name}
                    </Link>
                  </td>
                  <td>{c.decided}</td>
                  <td className="font-semibold">{wouldWords[c.would]}</td>
                  <td>{rows.findIndex((r) => r.rule === c.rule) + 1}</td>
                  <td>{c.now}</td>
                  <td className="figure">{c.sales ? `${many(c.refunds)} of ${many(c.sales)}` : '—'}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {changes.length === changesMost && <Said faint>The newest {changesMost}.</Said>}
        </>
      )}
    </>
  );
}
