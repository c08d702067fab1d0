import type { ReplyOf } from '../../contract/endpoint';
import type { readJoinPage } from '../../contract/recruit/applications';
import { kindsIn } from '../../core/recruiting/kinds';
import { answerFor, practicesIn, type PracticeKey, type Promoter } from '../../core/recruiting/practices';
import { Hint, Note } from '../kit/note';
import { Legend, Tick } from '../kit/ticks';

type Asked = ReplyOf<typeof readJoinPage>['practices'][number];

interface Props {
  practices: Asked[];
  group: Promoter['group'];
  /** as they are typed */
  channels: string;
  note: string;
  ticked: PracticeKey[];
  onTick: (ticked: PracticeKey[]) => void;
}

/** Which practices an applicant means to use; what the policy says to those is said before it is sent. */
export function PracticesAsked({ practices, group, channels, note, ticked, onTick }: Props) {
  if (practices.length === 0) return null;
  const promoter: Promoter = { kinds: kindsIn(channels), group };
  const said = practicesIn(`${channels}\n${note}`, practices).filter((key) => !ticked.includes(key));
  const unticked = practices.flatMap((p) => {
    const answer = answerFor(p, promoter)?.answer;
    return said.includes(p.key) && answer && answer !== 'welcome'
      ? [`“${p.name}”, which is ${answer === 'not-here' ? 'not here' : 'to be asked first'}`]
      : [];
  });
  return (
    <fieldset className="sm:col-span-2">
      <Legend>Which of these do you mean to do?</Legend>
      <Hint>Tick what you plan; it helps us to answer at once what is to be asked first.</Hint>
      <div className="mt-1 grid grid-cols-1 gap-x-5 sm:grid-cols-2">
        {practices.map((p) => (
          <OnePractice
            key={p.key}
            practice={p}
            promoter={promoter}
            on={ticked.includes(p.key)}
            onTick={(on) => onTick(on ? [...ticked, p.key] : ticked.filter((key) => key !== p.key))}
          />
        ))}
      </div>
      {unticked.length > 0 && (
        <Note role="status" className="mt-2">
          What you wrote speaks of {unticked.join('; and of ')}. Tick it if you mean to do it, or say in the
          note that you do not.
        </Note>
      )}
    </fieldset>
  );
}

/** A practice to tick; ticked, what is answered to it stands below. */
function OnePractice({
  practice,
  promoter,
  on,
  onTick,
}: {
  practice: Asked;
  promoter: Promoter;
  on: boolean;
  onTick: (on: boolean) => void;
}) {
  const answered = on ? answerFor(practice, promoter) : null;
  return (
    <div className="border-b border-dotted border-rule py-1">
      <Tick on={on} onChange={onTick}>
        <span dir="auto">{practice.name}</span>
      </Tick>
      {answered && answered.answer !== 'welcome' && (
        <p
          role="status"
          className={`mt-1 border-l-[3px] px-2 py-1 ${answered.answer === 'not-here' ? 'border-madder bg-madder-wash' : 'border-ochre bg-ochre-wash'}`}
        >
          <b className="font-semibold">{answered.answer === 'not-here' ? 'Not here.' : 'Ask first.'}</b>{' '}
          {answered.says && <span dir="auto">{answered.says} </span>}
          {answered.answer === 'not-here'
            ? 'You can apply for what else you do.'
            : 'We answer it with your application.'}
        </p>
      )}
    </div>
  );
}
