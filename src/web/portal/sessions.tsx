import { useQuery } from '@tanstack/react-query';
import { toast } from 'sonner';
import { endOtherSessions, readOwnProfile } from '../../contract/portal/profile';
import { counted } from '../../core/text/counted';
import { useAct } from '../kit/act';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { DottedItem } from '../kit/dotted';
import { Said } from '../kit/note';
import { Moment } from '../kit/text';
import { useLooking } from './base';

const shownSessions = 5;

/** Where one is signed in, and the way to end it everywhere else. */
export function Sessions() {
  const looking = useLooking();
  const sessions = useQuery(asking(readOwnProfile)).data?.sessions ?? [];
  const end = useAct(endOtherSessions, {
    done: ({ ended }) => toast(`${counted(ended, 'session')} ended`),
  });
  if (looking || sessions.length === 0) return null;
  return (
    <section aria-labelledby="sessions">
      <h2 id="sessions">Signed in</h2>
      <ul className="mt-1">
        {sessions.slice(0, shownSessions).map((s, i) => (
          <DottedItem key={i} apart>
            <span>{s.isThis ? 'Here' : 'In another browser'}</span>
            <span className="text-ink2">
              since <Moment at={s.begun} />, last used <Moment at={s.seen} />
            </span>
          </DottedItem>
        ))}
      </ul>
      {sessions.length > shownSessions && (
        <Said faint>and {counted(sessions.length - shownSessions, 'session')} more</Said>
      )}
      {sessions.length > 1 && (
        <Button className="mt-2" busy={end.isPending} onClick={() => end.mutate({})}>
          Sign out everywhere else
        </Button>
      )}
    </section>
  );
}
