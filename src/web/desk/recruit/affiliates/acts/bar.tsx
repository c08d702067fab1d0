import { giveUpBalance, moveAffiliate } from '../../../../../contract/recruit/affiliates';
import { timingWords } from '../../../../../core/ledger/timing';
import { Button } from '../../../../kit/button';
import { Bar } from '../../../../kit/place';
import { useMay } from '../../../roles';
import { openBalance, type View } from '../record/view';
import { moves, type Move } from './move';
import { otherTiming } from './timing';

/** What the page of an affiliate can be asked to do. */
export type Asked = 'give-up' | 'write' | 'timing' | Move;

/** The acts that are open to the reader, at the foot of an affiliate's page. */
export function AffiliateBar({ affiliate, ask }: { affiliate: View; ask: (act: Asked) => void }) {
  const may = useMay();
  const negative = openBalance(affiliate).amount < 0 && may(giveUpBalance);
  const joined = affiliate.joinedAt !== null;
  if (!negative && !may(moveAffiliate)) return null;
  return (
    <Bar>
      {negative && <Button onClick={() => ask('give-up')}>Give up the negative balance</Button>}
      {may(moveAffiliate) && (
        <>
          {joined && (
            <>
              <Button keyName="M" onClick={() => ask('write')}>
                Write
              </Button>
              <Button onClick={() => ask('timing')}>
                Pay {timingWords[otherTiming(affiliate.timing)]} instead
              </Button>
            </>
          )}
          {moves[affiliate.state]
            .filter(({ to }) => to !== 'active' || joined)
            .map((m) => (
              <Button key={m.to} look={m.to === 'blocked' ? 'danger' : 'quiet'} onClick={() => ask(m)}>
                {m.name}
              </Button>
            ))}
        </>
      )}
    </Bar>
  );
}
