import { Type } from '@sinclair/typebox';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Button } from '../kit/button';
import Calendar from '../kit/calendar';
import { Combobox } from '../kit/combobox';
import { DayChoice } from '../kit/day-choice';
import { DayField, DayInput } from '../kit/day-input';
import { Field, FormFault } from '../kit/form';
import { TextArea, TextLine } from '../kit/inputs';
import { Labelled } from '../kit/labelled';
import { DayOf, SelectOf } from '../kit/picked-fields';
import { SearchField } from '../kit/search';
import { Select, SelectField } from '../kit/select';
import { Tick, Ticks } from '../kit/ticks';
import { Choose } from '../kit/upload';
import { WallField } from '../kit/wall-field';
import { Held, type Piece } from './shown';

const cards = [
  ['', 'as everybody'],
  ['makers', 'Makers'],
  ['media', 'Media'],
] as const;
const days = Array.from({ length: 31 }, (_, i) => [String(i + 1), `${i + 1} days`] as const);
const name = Type.String({ title: 'Name', maxLength: 40, examples: ['Banding wheel'] });

function FormStates({ faulty }: { faulty: boolean }) {
  const { control, register } = useForm({ defaultValues: { name: '', card: 'makers', day: '2027-03-12' } });
  const fault = { type: 'server', message: 'Name is needed, such as “Banding wheel”' };
  const bound = { control, register, errors: faulty ? { name: fault, card: fault, day: fault } : {} };
  return (
    <div className="space-y-3">
      <FormFault>{faulty && 'Two of them are called “Banding wheel”.'}</FormFault>
      <Field name="name" schema={name} hint="What buyers read" unit="EUR" {...bound} />
      <SelectOf name="card" schema={name} label="Card" options={cards} hint="What it is paid by" {...bound} />
      <DayOf name="day" schema={name} label="From" {...bound} />
    </div>
  );
}

/** A day in a form of its own, which says how often it was sent and with what. */
function Sent() {
  const [until, setUntil] = useState('2027-03-12');
  const [sent, setSent] = useState<string[]>([]);
  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        setSent([...sent, until || 'none']);
      }}
    >
      <DayField label="Paid until" value={until} onDay={setUntil} />
      <Button type="submit" className="mt-2">
        Send
      </Button>
      <p role="status">sent: {sent.join(', ')}</p>
    </form>
  );
}

const twins = [...days, ['first', 'Rib'], ['second', 'Rib']] as const;

/** What is typed, ticked and picked. */
export const fields: Piece[] = [
  {
    file: 'labelled',
    states: [
      ['with a line', <Labelled key="a">Name{<TextLine value="Rib" onText={() => undefined} />}</Labelled>],
    ],
  },
  {
    file: 'inputs',
    states: [
      [
        'empty',
        <Held key="a" first="">
          {(v, set) => <TextLine aria-label="Line" placeholder="12.5" value={v} onText={set} />}
        </Held>,
      ],
      [
        'several lines',
        <Held key="b" first="Two lines">
          {(v, set) => <TextArea aria-label="Area" value={v} onText={set} />}
        </Held>,
      ],
      [
        'not for this role',
        <TextLine key="c" aria-label="Closed" disabled value="12.5" onText={() => undefined} />,
      ],
    ],
  },
  {
    file: 'form',
    states: [
      ['as it opens', <FormStates key="a" faulty={false} />],
      ['refused', <FormStates key="b" faulty />],
    ],
  },
  { file: 'picked-fields', states: [['in a form', <FormStates key="a" faulty={false} />]] },
  {
    file: 'select',
    states: [
      [
        'one of some',
        <Held key="a" first="">
          {(v, set) => <Select label="Card" value={v} options={cards} onPick={set} />}
        </Held>,
      ],
      [
        'with its name',
        <SelectField key="b" label="Rate card" value="media" options={cards} onPick={() => undefined} />,
      ],
      [
        'not for this role',
        <Select key="c" label="Closed" disabled value="media" options={cards} onPick={() => undefined} />,
      ],
    ],
  },
  {
    file: 'combobox',
    states: [
      [
        'two of one name',
        <Held key="c" first="1">
          {(v, set) => (
            <>
              <Combobox label="Twins" value={v} options={twins} onPick={set} />
              <p role="status">{v}</p>
            </>
          )}
        </Held>,
      ],
      [
        'one of many',
        <Held key="a" first="12">
          {(v, set) => <Combobox label="Days" value={v} options={days} onPick={set} />}
        </Held>,
      ],
      [
        'refused',
        <Combobox key="b" label="Days refused" faulty value="3" options={days} onPick={() => undefined} />,
      ],
    ],
  },
  {
    file: 'day-input',
    states: [
      ['in a form', <Sent key="d" />],
      [
        'one that cannot be emptied',
        <Held key="e" first="2027-03-12">
          {(v, set) => <DayInput label="Always" required value={v} onDay={set} />}
        </Held>,
      ],
      [
        'not for this role',
        <DayInput key="f" label="Closed day" disabled value="2027-03-12" onDay={() => undefined} />,
      ],
      [
        'empty',
        <Held key="a" first="">
          {(v, set) => <DayInput label="Day" value={v} onDay={set} />}
        </Held>,
      ],
      [
        'with its name',
        <Held key="b" first="2027-03-12">
          {(v, set) => <DayField label="Until" value={v} onDay={set} />}
        </Held>,
      ],
      ['refused', <DayInput key="c" label="Refused day" faulty value="2027-03-12" onDay={() => undefined} />],
    ],
  },
  {
    file: 'calendar',
    states: [
      [
        'a month, nothing after the 20th',
        <Held key="a" first="2027-03-12">
          {(v, set) => (
            <div className="relative w-[250px] border border-rule p-3">
              <Calendar value={v} today="2027-03-10" max="2027-03-20" onPick={set} />
            </div>
          )}
        </Held>,
      ],
    ],
  },
  {
    file: 'day-choice',
    states: [
      [
        'a word of a sentence',
        <Held key="a" first="2027-03-12">
          {(v, set) => (
            <p>
              as of{' '}
              {<DayChoice label="As of the day" value={v} onChange={set} jumps={[['today', '2027-03-12']]} />}
            </p>
          )}
        </Held>,
      ],
    ],
  },
  {
    file: 'wall-field',
    states: [
      [
        'without a moment',
        <Held key="a" first="">
          {(v, set) => <WallField label="Begins" value={v} onChange={set} empty="at once" />}
        </Held>,
      ],
      [
        'with one',
        <Held key="b" first="2027-04-05T18:15">
          {(v, set) => <WallField label="Ends" value={v} onChange={set} empty="open" hint="Exclusive." />}
        </Held>,
      ],
    ],
  },
  {
    file: 'ticks',
    states: [
      [
        'one',
        <Held key="a" first={true}>
          {(v, set) => (
            <Tick on={v} onChange={set}>
              also paid at sale
            </Tick>
          )}
        </Held>,
      ],
      [
        'not for this role',
        <Tick key="b" on={false} disabled onChange={() => undefined}>
          locked
        </Tick>,
      ],
      [
        'several',
        <Held key="c" first={['makers']}>
          {(v, set) => <Ticks legend="Cards" options={cards.slice(1)} ticked={v} onChange={set} />}
        </Held>,
      ],
    ],
  },
  { file: 'search', states: [['empty', <SearchField key="a" label="Find a product" />]] },
  {
    file: 'upload',
    states: [
      [
        'waiting for a file',
        <Choose
          key="a"
          label="choose a file"
          most={1000}
          busy={false}
          onFile={() => undefined}
          onFault={() => undefined}
        >
          No picture yet;
        </Choose>,
      ],
      [
        'under way',
        <Choose
          key="b"
          label="choose another"
          most={1000}
          busy
          onFile={() => undefined}
          onFault={() => undefined}
        >
          wheel.png;
        </Choose>,
      ],
    ],
  },
];
