import { useQuery } from '@tanstack/react-query';
import { readConnection } from '../../../../contract/track/connection';
import { formatAgo } from '../../../../core/calendar/format';
import { asking } from '../../../kit/asking';
import { Copy } from '../../../kit/copy';
import { Note, Said } from '../../../kit/note';
import { Failed, Margin } from '../../../kit/place';
import { useProgramme } from '../../../kit/programme';
import { State } from '../../../kit/state';
import { Code, Sums } from '../../../kit/text';
import { Keys } from './keys';
import { type ConnectionView } from './view';

/** Whether the shop is heard of, its keys, and what it has to know. */
export function Health() {
  const { now } = useProgramme();
  const query = useQuery(asking(readConnection));
  if (query.error)
    return (
      <Margin>
        <Failed fault={query.error} />
      </Margin>
    );
  if (!query.data)
    return (
      <Margin>
        <div className="skeleton" />
      </Margin>
    );
  const c = query.data;
  const ago = (at: number | null) => (at === null ? 'never' : formatAgo(at, now));
  return (
    <Margin width="w-[348px]">
      <h2>Health</h2>
      <HealthSums ago={ago} c={c} />
      {c.doubled > 0 && (
        <Note as="div" className="mt-3" role="status">
          <b className="font-semibold">Connected twice.</b> {c.doubled}{' '}
          {c.doubled === 1 ? 'order was' : 'orders were'} reported by the server and by the fallback picture
          in 30 days. Each counts once; take the picture off the pages that report by server.
        </Note>
      )}
      <Keys keys={c.keys} />
      <ForTheShop c={c} />
    </Margin>
  );
}

/** When the shop was last heard of, and what became of its reports. */
function HealthSums({ ago, c }: { ago: (at: number | null) => string; c: ConnectionView }) {
  return (
    <div className="mt-1">
      <Sums
        rows={[
          { label: 'Last visit by a link', figure: ago(c.lastVisit) },
          { label: 'Last report', figure: ago(c.lastReport) },
          { label: 'Last new order', figure: ago(c.lastOrder) },
          ...Object.entries(c.counts).map(([o, n]) => ({
            label: <State is={o} />,
            figure: (
              <>
                {n.toLocaleString('en-GB')} <span className="text-ink3">in 30 d</span>
              </>
            ),
          })),
        ]}
      />
    </div>
  );
}

/** What the shop has to know: where reports go, what stands on its pages, where links may lead. */
function ForTheShop({ c }: { c: ConnectionView }) {
  return (
    <>
      <h2 className="mt-5">For the shop</h2>
      <Said>
        Report each order to <Code>{c.address}/api/track/v1/orders</Code>, signed. The{' '}
        <a className="link" href="/api/openapi.json" target="_blank" rel="noreferrer">
          contract
        </a>{' '}
        names every value.
      </Said>
      <Said gap={2}>
        On each page, so that the visit reaches the checkout: <Copy text={c.snippet}>copy the snippet</Copy>
      </Said>
      <pre
        tabIndex={0}
        className="mt-1 overflow-auto border border-rule bg-sheet p-2 font-mono text-[11.5px]"
      >
        {c.snippet}
      </pre>
      <Said gap={2}>
        Where no server can report, the fallback picture on the thank-you page, for sales that wait for a
        person: <Copy text={c.picture}>copy it</Copy>
      </Said>
      <h2 className="mt-5">Links may lead to</h2>
      <Said>{c.landingHosts.join(', ') || 'no host yet: a product’s sales page adds its own'}</Said>
      {c.shop && (
        <p className="mt-4">
          <a className="link" href={c.shop} target="_blank" rel="noreferrer">
            The shop stand-in
          </a>{' '}
          ·{' '}
          <a className="link" href={`${c.shop}/mailroom`} target="_blank" rel="noreferrer">
            mail room
          </a>{' '}
          ·{' '}
          <a className="link" href={`${c.shop}/bank`} target="_blank" rel="noreferrer">
            bank
          </a>
        </p>
      )}
    </>
  );
}
