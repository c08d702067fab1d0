import { useController, type Control, type FieldValues, type Path } from 'react-hook-form';
import { DayInput } from './day-input';
import { Framed, type FieldProps } from './form';
import { Select } from './select';

interface PickedProps<T extends FieldValues> extends FieldProps<T> {
  control: Control<T>;
}

/** A field of a form that is one of some, made from its schema. @param options value and words of each */
export function SelectOf<T extends FieldValues>({
  options,
  ...props
}: PickedProps<T> & { options: readonly (readonly [value: string, text: string])[] }) {
  const { control, name, disabled } = props;
  const { field } = useController<T, Path<T>>({ control, name });
  return (
    <Framed {...props}>
      {(frame) => (
        <Select
          {...frame}
          ref={field.ref}
          value={String(field.value ?? '')}
          options={options}
          onPick={field.onChange}
          onBlur={field.onBlur}
          disabled={disabled}
        />
      )}
    </Framed>
  );
}

/** A field of a form that is a day, made from its schema. */
export function DayOf<T extends FieldValues>(props: PickedProps<T>) {
  const { control, name, disabled } = props;
  const { field } = useController<T, Path<T>>({ control, name });
  return (
    <Framed {...props}>
      {(frame) => (
        <DayInput {...frame} value={String(field.value ?? '')} onDay={field.onChange} disabled={disabled} />
      )}
    </Framed>
  );
}
