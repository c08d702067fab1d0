import { addDays, dayOf } from '../../../../core/calendar/zone';
import { Choice } from '../../../kit/choice';
import { DayChoice } from '../../../kit/day-choice';
import { Pick } from '../../../kit/pick';
import { useProgramme } from '../../../kit/programme';
import { findAffiliates } from '../../shared/find-affiliates';
import type { BookAsked } from './asked';

const events = [
  ['sale', 'a first sale'],
  ['renewal', 'a renewal'],
  ['lead', 'a lead'],
  ['click', 'a click'],
] as const;

/** At most six affiliates beside the others, the one that was added last at the end. */
const beside = (affiliates: string, id: string) =>
  [...affiliates.split(',').filter((x) => x && x !== id), id].slice(-6).join(',');

/** What the book is asked for, as a sentence. */
export function BookSentence({ asked }: { asked: BookAsked }) {
  const { event, payment, asOf, affiliates, put } = asked;
  const { now, zone } = useProgramme();
  const today = dayOf(now, zone);
  return (
    <>
      What anyone earns on{' '}
      <Choice
        label="Event"
        value={event}
        options={events}
        onChange={(v) => put({ event: v === 'sale' ? '' : v })}
      />
      {event === 'renewal' && (
        <>
          , payment{' '}
          <input
            aria-label="Payment"
            type="number"
            min={2}
            max={999}
            value={payment}
            onChange={(e) => put({ payment: e.target.value })}
            className="w-14 border-b border-dotted border-copper bg-transparent text-copper"
          />
        </>
      )}
      , as of{' '}
      <DayChoice
        label="As of the day"
        value={asOf || today}
        onChange={(d) => put({ day: d === today ? '' : d })}
        jumps={[
          ['a month ago', addDays(today, -30)],
          ['today', today],
          ['in a month', addDays(today, 30)],
        ]}
      />
      , beside{' '}
      <Pick
        label="Add an affiliate"
        find={findAffiliates}
        onPick={(p) => put({ affiliates: beside(affiliates, p.id) })}
      >
        {affiliates ? 'one more affiliate' : 'an affiliate'}
      </Pick>
      {affiliates && (
        <>
          {' '}
          <button type="button" className="link" onClick={() => put({ affiliates: '' })}>
            none
          </button>
        </>
      )}
    </>
  );
}
