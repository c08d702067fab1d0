import { useFieldArray, type UseFormReturn } from 'react-hook-form';
import { toast } from 'sonner';
import type { PracticesPolicy } from '../../../../core/recruiting/policy';
import { unanswered, usualPracticeList, usualPractices } from '../../../../core/recruiting/practices';
import { Button } from '../../../kit/button';
import { Apart } from '../../../kit/layout';
import { Menu } from '../../../kit/menu';
import { Hint } from '../../../kit/note';
import { type Groups } from './answers-apart';
import { newPracticeKey } from './new-practice';
import { PracticeRow } from './practice-row';

/** The table of practices: each is welcome, asked first or not here. */
export function PracticesTable({ form, groups }: { form: UseFormReturn<PracticesPolicy>; groups: Groups }) {
  const table = useFieldArray({ control: form.control, name: 'practices', keyName: 'row' });
  const there = new Set(table.fields.map((p) => p.key));
  const missing = usualPracticeList.filter((key) => !there.has(key));
  const addOwn = () =>
    table.append({ key: newPracticeKey(), name: '', words: [], answer: null, says: '', exceptions: [] });
  const remove = (at: number) => {
    const gone = form.getValues(`practices.${at}`);
    table.remove(at);
    toast(`“${gone.name || 'A practice'}” is out of the table`, {
      action: { label: 'Undo', onClick: () => table.insert(at, gone) },
    });
  };
  return (
    <fieldset>
      <Apart>
        <legend className="font-semibold">Ways of promoting</legend>
        <span className="text-[12px] text-ink3">
          {form.watch('practices').filter((p) => p.answer !== null).length} of {table.fields.length} answered
        </span>
      </Apart>
      <Hint>
        Applicants tick those that they mean to use. What is not here is said to them before they send; what
        is to be asked first waits for your answer with the application.
      </Hint>
      <ul className="mt-1 border-t border-ink">
        {table.fields.map((p, i) => (
          <PracticeRow
            key={p.row}
            form={form}
            at={i}
            last={table.fields.length - 1}
            groups={groups}
            onMove={(to) => table.move(i, to)}
            onRemove={() => remove(i)}
          />
        ))}
      </ul>
      <div className="mt-2 flex gap-2">
        <Button onClick={addOwn}>Add a practice of your own</Button>
        {missing.length > 0 && (
          <Menu
            trigger={<Button look="bare">Put a usual one back…</Button>}
            items={missing.map((key) => [key, usualPractices[key].name] as const)}
            onPick={(key) => table.append(unanswered(key))}
          />
        )}
      </div>
    </fieldset>
  );
}
