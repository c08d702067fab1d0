import { ChevronDown, ChevronUp } from 'lucide-react';
import { useState } from 'react';
import { get, useWatch, type FieldErrors, type UseFormReturn } from 'react-hook-form';
import type { PracticesPolicy } from '../../../../core/recruiting/policy';
import { isUsual, usualPractices } from '../../../../core/recruiting/practices';
import { counted } from '../../../../core/text/counted';
import { AnswerChoice } from '../../../kit/answers';
import { Button } from '../../../kit/button';
import { TextLine } from '../../../kit/inputs';
import { Row } from '../../../kit/layout';
import { Hint, Wrong } from '../../../kit/note';
import { AnswersApart, type Groups } from './answers-apart';

export interface RowProps {
  form: UseFormReturn<PracticesPolicy>;
  at: number;
  last: number;
  groups: Groups;
  onMove: (to: number) => void;
  onRemove: () => void;
}

const bare =
  'w-full rounded-sm border border-transparent bg-transparent px-1 py-[3px] hover:border-rule focus:border-rule focus:bg-sheet';

/** One practice of the draft: what it is called, the answer, a sentence; more where it is asked for. */
export function PracticeRow(props: RowProps) {
  const { form, at } = props;
  const [open, setOpen] = useState(false);
  const p = useWatch({ control: form.control, name: `practices.${at}` });
  const errors = get(form.formState.errors, `practices.${at}`) as FieldErrors<typeof p> | undefined;
  const more = [
    p.exceptions.length ? counted(p.exceptions.length, 'answer apart', 'answers apart') : '',
    p.words.length ? counted(p.words.length, 'phrase', 'phrases') : '',
  ].filter(Boolean);
  return (
    <li className="border-b border-dotted border-rule py-[6px]" aria-label={p.name || 'A practice'}>
      <Row>
        <input
          aria-label={`Practice ${at + 1}`}
          maxLength={120}
          dir="auto"
          className={`${bare} min-w-0 flex-1 font-semibold text-ink`}
          placeholder="What it is called"
          {...form.register(`practices.${at}.name`)}
        />
        <AnswerChoice
          name={`practice-${p.key}`}
          label={`Answer: ${p.name}`}
          value={p.answer}
          onPick={(answer) => form.setValue(`practices.${at}.answer`, answer, { shouldDirty: true })}
        />
      </Row>
      <Row>
        <input
          aria-label={`Sentence: ${p.name}`}
          maxLength={500}
          dir="auto"
          className={`${bare} min-w-0 flex-1 font-serif text-ink2`}
          placeholder="A sentence, if you like"
          {...form.register(`practices.${at}.says`)}
        />
        <Button
          look="bare"
          aria-expanded={open}
          aria-label={`More of ${p.name}`}
          onClick={() => setOpen(!open)}
        >
          <span className="text-[12px] font-normal">{more.join(', ') || 'more'}</span>
          {open ? <ChevronUp size={13} /> : <ChevronDown size={13} />}
        </Button>
      </Row>
      {errors && <Faults errors={errors} />}
      {open && <More {...props} practice={p} />}
    </li>
  );
}

/** What is wrong in one row, all of it. */
function Faults({ errors }: { errors: object }) {
  const messages = Object.values(errors).flatMap((e: unknown) => messagesIn(e));
  return messages.map((message) => (
    <Wrong key={message} role="alert">
      {message}
    </Wrong>
  ));
}

function messagesIn(fault: unknown): string[] {
  if (typeof fault !== 'object' || fault === null) return [];
  if ('message' in fault && typeof fault.message === 'string') return [fault.message];
  return Object.values(fault).flatMap(messagesIn);
}

/** Answers apart, phrases by which it is recognised, its place in the table. */
function More({
  form,
  at,
  last,
  groups,
  onMove,
  onRemove,
  practice: p,
}: RowProps & { practice: PracticesPolicy['practices'][number] }) {
  const usual = isUsual(p.key) ? usualPractices[p.key].words : [p.name];
  return (
    <div className="mt-1 mb-2 rounded-sm bg-rail px-3 py-2">
      <AnswersApart
        name={p.key}
        practice={p.name}
        exceptions={p.exceptions}
        groups={groups}
        onChange={(exceptions) =>
          form.setValue(`practices.${at}.exceptions`, exceptions, { shouldDirty: true })
        }
      />
      <label className="mt-2 block text-ink2">
        Recognised in what applicants write by “{usual.join('”, “')}”, and by
        <TextLine
          className="mt-1"
          aria-label={`Phrases: ${p.name}`}
          placeholder="more phrases, with commas between"
          defaultValue={p.words.join(', ')}
          onText={(text) => form.setValue(`practices.${at}.words`, phrasesIn(text), { shouldDirty: true })}
        />
      </label>
      <Row className="mt-2">
        <Button disabled={at === 0} onClick={() => onMove(at - 1)}>
          Earlier
        </Button>
        <Button disabled={at === last} onClick={() => onMove(at + 1)}>
          Later
        </Button>
        <Button look="danger" onClick={onRemove}>
          Remove from the table
        </Button>
      </Row>
      <Hint className="mt-1">
        Removed, the policy does not speak of it any more; who was let in for it stays so.
      </Hint>
    </div>
  );
}

/** Phrases with commas between them, each once, as many and as long as a policy keeps. */
export const phrasesIn = (text: string): string[] =>
  [
    ...new Set(
      text
        .split(',')
        .map((phrase) => phrase.trim().slice(0, 60))
        .filter((phrase) => phrase.length >= 2),
    ),
  ].slice(0, 20);
