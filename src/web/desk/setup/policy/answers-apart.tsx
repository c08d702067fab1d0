import type { ReplyOf } from '../../../../contract/endpoint';
import type { listPolicies } from '../../../../contract/setup/policy';
import { partnerKindList } from '../../../../core/recruiting/kinds';
import type { PracticeException } from '../../../../core/recruiting/practices';
import { AnswerChoice } from '../../../kit/answers';
import { Button } from '../../../kit/button';
import { TextLine } from '../../../kit/inputs';
import { Row } from '../../../kit/layout';
import { Select } from '../../../kit/select';

export type Groups = ReplyOf<typeof listPolicies>['groups'];
type Who = PracticeException['who'];

/** Whom a practice can be answered for apart: groups first, then kinds of partners. */
const choicesOf = (groups: Groups): [Who, string][] => [
  ...groups.map((g): [Who, string] => [g.id, `the group ${g.name}`]),
  ...partnerKindList.map((k): [Who, string] => [k, `partners with ${k}`]),
];

/** Answers for a group or a kind of partner, where they are not as for everybody. */
export function AnswersApart({
  name,
  practice,
  exceptions,
  groups,
  onChange,
}: {
  /** of the fields, told from those of other practices */
  name: string;
  practice: string;
  exceptions: PracticeException[];
  groups: Groups;
  onChange: (exceptions: PracticeException[]) => void;
}) {
  const choices = choicesOf(groups);
  const free = choices.filter(([who]) => !exceptions.some((e) => e.who === who));
  const nameOf = (who: Who) => choices.find(([w]) => w === who)?.[1] ?? 'a group that is gone';
  const put = (at: number, part: Partial<PracticeException>) =>
    onChange(exceptions.map((e, i) => (i === at ? { ...e, ...part } : e)));
  return (
    <div>
      {exceptions.map((e, i) => (
        <div key={e.who} className="mt-2 border-l-[3px] border-rule pl-2">
          <Row className="flex-wrap">
            <Select
              label={`${practice}: for whom`}
              className="w-[170px]"
              value={e.who}
              options={[[e.who, nameOf(e.who)], ...free]}
              onPick={(who) => put(i, { who })}
            />
            <AnswerChoice
              name={`${name}-apart-${i}`}
              label={`${practice}, apart: ${nameOf(e.who)}`}
              value={e.answer}
              onPick={(answer) => put(i, { answer })}
            />
            <Button
              look="bare"
              aria-label={`Remove the answer apart, ${i + 1}`}
              onClick={() => onChange(exceptions.filter((_, n) => n !== i))}
            >
              Remove
            </Button>
          </Row>
          <TextLine
            className="mt-1"
            aria-label={`${practice}, apart: sentence ${i + 1}`}
            placeholder="A sentence, if you like"
            maxLength={500}
            value={e.says}
            onText={(says) => put(i, { says })}
          />
        </div>
      ))}
      {free.length > 0 && (
        <Button
          look="bare"
          onClick={() => onChange([...exceptions, { who: free[0]![0], answer: 'ask-first', says: '' }])}
        >
          Answer a group or a kind of partner otherwise
        </Button>
      )}
    </div>
  );
}
