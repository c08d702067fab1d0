import { State } from '../../../kit/state';
import type { Prospect } from './filter';

/** How a prospect stands with us, in a mark and a word. */
export function ProspectState({ prospect }: { prospect: Pick<Prospect, 'state' | 'invite'> }) {
  if (prospect.state === 'joined') return <State is="active" word="joined" />;
  if (prospect.state === 'never') return <State is="" word="never invited" />;
  return (
    <State
      is={prospect.invite ?? 'sent'}
      word={prospect.invite === 'waiting' ? 'on its way' : (prospect.invite ?? 'invited')}
    />
  );
}
