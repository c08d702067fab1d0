import type { ReplyOf } from '../../../contract/endpoint';
import type { doBulk } from '../../../contract/recruit/roster';
import { counted } from '../../../core/text/counted';
import { Note } from '../../kit/note';
import { useProgramme } from '../../kit/programme';

export type Later = ReplyOf<typeof doBulk>['later'];

/** Whom a promised notice keeps where they are for now, in a few words for a passing message: "3 of them on 26 Mar 2027"; empty for nobody. */
export function laterInWords(later: Later, day: (at: number) => string): string {
  return later ? `${counted(later.count, 'moves', 'move')} on ${day(later.from)}, after the notice` : '';
}

/** Says before an act who would earn less by it, and that the notice is kept. @param of what the server found @param alone one affiliate is meant */
export function NoticeNote({ notice, alone = false }: { notice: Later; alone?: boolean }) {
  const { day } = useProgramme();
  if (!notice) return null;
  return (
    <Note role="note" className="mt-3">
      {alone ? (
        'This earns less'
      ) : (
        <>
          <b>{notice.count.toLocaleString('en-GB')}</b> would earn less
        </>
      )}{' '}
      (<span className="private">{notice.cut}</span>). The promised notice is kept: for{' '}
      {alone || notice.count === 1 ? 'this one' : 'them'} it begins on <b>{day(notice.from)}</b>
      {alone ? '' : ', for the others now'}.
    </Note>
  );
}
