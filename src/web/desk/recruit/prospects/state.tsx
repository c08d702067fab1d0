import { State } from '../../../kit/state';
import type { Prospect } from './filter';

/** How a prospect stands with us, in a mark and a word. */
export function ProspectState({ of }: { of: Pick<Prospect, 'state' | 'invite'> }) {
  if (of.state === 'joined') return <State is="active" word="joined" />;
  if (of.state === 'never') return <State is="" word="never invited" />;
  return (
    <State
      is={of.invite ?? 'sent'}
      word={of.invite === 'waiting' ? 'on its way' : (of.invite ?? 'invited')}
    />
  );
}
