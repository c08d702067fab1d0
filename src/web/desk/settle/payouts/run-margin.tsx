import { runCsv, runXml, type RunOut } from '../../../../contract/settle/payouts';
import { formatMoney } from '../../../../core/money/amount';
import { counted } from '../../../../core/text/counted';
import { type Id } from '../../../../core/text/id';
import { addressOf } from '../../../kit/api';
import { Margin } from '../../../kit/place';
import { Day, Moment, Sums } from '../../../kit/text';
import { LeftOut } from './left-out';

/** Who did what with the run and when, its file, and who is left out. @param takeIn takes somebody in again; null where that is not open */
export function RunMargin({
  run,
  pay,
  takeIn,
}: {
  run: RunOut;
  pay: boolean;
  takeIn: ((affiliate: Id<'affiliate'>) => void) | null;
}) {
  return (
    <Margin>
      <h2>This run</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Drafted', figure: <ByAt by={run.createdBy} at={run.createdAt} /> },
            ...(run.approvedBy ? [{ label: 'Approved', figure: run.approvedBy }] : []),
            ...sentRows(run),
            ...(run.deliveredAt
              ? [{ label: 'With the bank since', figure: <Day at={run.deliveredAt} /> }]
              : []),
            {
              label: counted(run.payees, 'payment'),
              figure: formatMoney(run.total),
              weight: 'sum' as const,
            },
          ]}
        />
      </div>
      {run.sentAt && run.state !== 'sending' && pay && <RunFiles id={run.id} />}
      {run.leftOutSums.length > 0 && <LeftOut run={run} takeIn={takeIn} />}
    </Margin>
  );
}

function ByAt({ by, at }: { by: string | null; at: number }) {
  return (
    <>
      <Moment at={at} />
      <br />
      <span className="text-ink3">{by}</span>
    </>
  );
}

function sentRows(run: RunOut) {
  if (!run.sentAt) return [];
  return [
    { label: 'Sent', figure: <ByAt by={run.sentBy} at={run.sentAt} /> },
    {
      label: 'Promised by',
      figure: (
        <span className={run.overdue ? 'text-madder' : ''}>
          <Day at={run.promisedAt} />
        </span>
      ),
    },
  ];
}

function RunFiles({ id }: { id: string }) {
  return (
    <p className="mt-3">
      The file:{' '}
      <a className="link" href={addressOf(runXml, { id })} download>
        pain.001
      </a>{' '}
      ·{' '}
      <a className="link" href={addressOf(runCsv, { id })} download>
        CSV
      </a>
    </p>
  );
}
