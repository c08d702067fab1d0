import { listAudit } from '../../../../contract/lookback/audit';
import { Button } from '../../../kit/button';
import { useList } from '../../../kit/lists';
import { Failed } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { Moment } from '../../../kit/text';
import { actionWords, changeWords } from '../../shared/audit-words';

/** Who did what, when, before and after. */
export function Audit() {
  const list = useList(listAudit, {});
  const { base, moment } = useProgramme();
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <table className="table">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            <th>Of</th>
            <th>Change</th>
          </tr>
        </thead>
        <tbody>
          {list.rows.map((r) => (
            <tr key={r.id}>
              <td>
                <Moment at={r.at} />
              </td>
              <td>{r.by}</td>
              <td>{actionWords(r.action)}</td>
              <td className="max-w-[200px] text-ink2">{r.subject}</td>
              <td
                className="max-w-[420px] text-ink2"
                title={changeWords(r.before, r.after, { base, moment })}
              >
                {changeWords(r.before, r.after, { base, moment })}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {list.onEnd && (
        <Button className="mt-3" onClick={list.onEnd}>
          Earlier
        </Button>
      )}
    </>
  );
}
