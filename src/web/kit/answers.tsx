import { answerWords, practiceAnswers, type PracticeAnswer } from '../../core/recruiting/practices';

const chosen: Record<PracticeAnswer, string> = {
  welcome: 'border-verdigris bg-verdigris-wash text-verdigris',
  'ask-first': 'border-ochre bg-ochre-wash text-ochre',
  'not-here': 'border-madder bg-madder-wash text-madder',
};

/** One of the three answers to a practice, side by side; arrows move through them. */
export function AnswerChoice({
  name,
  label,
  value,
  onPick,
}: {
  /** of the group of answers, told from other groups on the page */
  name: string;
  label: string;
  value: PracticeAnswer | null;
  onPick: (answer: PracticeAnswer) => void;
}) {
  return (
    <span role="radiogroup" aria-label={label} className="inline-flex whitespace-nowrap">
      {practiceAnswers.map((answer, i) => (
        <label
          key={answer}
          className={`relative cursor-pointer border px-2 py-[4px] text-[12px] has-focus-visible:z-10 has-focus-visible:outline-2 has-focus-visible:outline-copper ${i > 0 ? '-ml-px' : 'rounded-l-sm'} ${i === 2 ? 'rounded-r-sm' : ''} ${value === answer ? `z-10 font-semibold ${chosen[answer]}` : 'border-rule bg-sheet text-ink2'}`}
        >
          <input
            type="radio"
            className="absolute size-px opacity-0"
            name={name}
            checked={value === answer}
            onChange={() => onPick(answer)}
          />
          {answerWords[answer]}
        </label>
      ))}
    </span>
  );
}
