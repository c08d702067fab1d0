import { Button } from '../../../../kit/button';
import { Bar, BarEnd } from '../../../../kit/place';
import type { Decision } from '../decision';

interface Props {
  may: boolean;
  enabled: boolean;
  begin: (d: Decision) => void;
  onAsk: () => void;
  onBlock: () => void;
  selected: number;
  position: number;
  total: number;
  state: string;
}

/** What can be decided of those who wait, or decided otherwise of those who do not any more. */
export function DecisionBar({ may, position, total, ...bar }: Props) {
  const { selected, state } = bar;
  return (
    <Bar>
      {may && (state === 'waiting' || state === 'asked') && <Waiting {...bar} />}
      {may && (state === 'approved' || state === 'declined') && <Decided {...bar} />}
      {may && selected <= 1 && position > 0 && (
        <Button look="danger" keyName="B" onClick={bar.onBlock}>
          Block
        </Button>
      )}
      <BarEnd>
        {selected > 0 ? `${selected} selected · ` : ''}
        {position || 0} of {total} · <kbd>J</kbd> <kbd>K</kbd> move · <kbd>X</kbd> select · <kbd>?</kbd> all
        keys
      </BarEnd>
    </Bar>
  );
}

function Waiting({
  enabled,
  begin,
  onAsk,
  selected,
}: Pick<Props, 'enabled' | 'begin' | 'onAsk' | 'selected'>) {
  const many = selected > 1 ? ` ${selected}` : '';
  return (
    <>
      <Button look="main" keyName="A" disabled={!enabled} onClick={() => begin('after-hold')}>
        Approve{many}, after hold
      </Button>
      <Button keyName="S" disabled={!enabled} onClick={() => begin('at-sale')}>
        Approve{many}, at sale
      </Button>
      <Button keyName="D" disabled={!enabled} onClick={() => begin('decline')}>
        Decline{many}
      </Button>
      {selected <= 1 && (
        <Button keyName="Q" disabled={!enabled} onClick={onAsk}>
          Ask…
        </Button>
      )}
    </>
  );
}

function Decided({ enabled, begin, state }: Pick<Props, 'enabled' | 'begin' | 'state'>) {
  const approved = state === 'approved';
  return (
    <>
      <Button keyName="A" disabled={!enabled} onClick={() => begin('after-hold')}>
        {approved ? 'After hold instead' : 'Approve after all'}
      </Button>
      <Button keyName="S" disabled={!enabled} onClick={() => begin('at-sale')}>
        {approved ? 'At sale instead' : 'Approve after all, at sale'}
      </Button>
      {approved && (
        <Button keyName="D" disabled={!enabled} onClick={() => begin('decline')}>
          Decline after all
        </Button>
      )}
    </>
  );
}
