import { Button } from '../../../../kit/button';
import { Field } from '../../../../kit/form';
import { TextLine } from '../../../../kit/inputs';
import { Wrong } from '../../../../kit/note';
import { Legend } from '../../../../kit/ticks';
import { properties, type Part } from './bound';
import { acceptOf, FileField } from './file';

const live = 'Rates and prices stand in braces and are filled when read: {rate WHEEL-1}, {price WHEEL-1}';

/** What a kind has of its own. */
export function OwnFields(part: Part) {
  switch (part.kind) {
    case 'banner':
      return <BannerFields {...part} />;
    case 'text-link':
      return <TextLinkFields {...part} />;
    case 'html':
      return <PieceFields {...part} />;
    case 'video':
      return <VideoFields {...part} />;
    case 'email':
      return <EmailFields {...part} />;
  }
}

const boundOf = ({ form, disabled }: Part) => ({
  register: form.register,
  errors: form.formState.errors,
  disabled,
});

function BannerFields(part: Part) {
  return (
    <>
      <FileField part={part} field="file" label="File" accept={acceptOf.picture} />
      <Field
        name="alt"
        schema={properties.alt}
        {...boundOf(part)}
        hint="Read where the picture is not seen; part of the HTML that affiliates copy"
      />
    </>
  );
}

function TextLinkFields(part: Part) {
  return (
    <>
      <Field name="words" schema={properties.words} {...boundOf(part)} hint={live} />
      <Field
        name="around"
        schema={properties.around}
        {...boundOf(part)}
        label="Sentence around it, if you wish"
        hint="{link} stands where the words are put"
      />
    </>
  );
}

function PieceFields(part: Part) {
  return (
    <Field
      name="code"
      kind="area"
      rows={12}
      schema={properties.code}
      {...boundOf(part)}
      hint="{link} becomes the affiliate’s own link and has to stand in it; {handle} its handle. Up to 100 KB"
    />
  );
}

function VideoFields(part: Part) {
  return (
    <>
      <FileField part={part} field="file" label="File" accept={acceptOf.video} />
      <Field
        name="address"
        schema={properties.address}
        {...boundOf(part)}
        hint="Instead of a file: a page on another host that shows it"
      />
      <FileField part={part} field="poster" label="Poster picture" accept={acceptOf.picture} />
    </>
  );
}

function EmailFields(part: Part) {
  return (
    <>
      <SubjectLines {...part} />
      <Field
        name="body"
        kind="area"
        rows={12}
        schema={properties.body}
        {...boundOf(part)}
        hint="In Markdown. {link} has to stand in it; {name} and {handle} of the affiliate who sends it, {product}, {coupon}, {rate WHEEL-1}"
      />
    </>
  );
}

const mostLines = 5;

function SubjectLines({ form, disabled }: Part) {
  const lines = form.watch('subjects');
  const shown = lines.length ? lines : [''];
  const put = (next: string[]) => form.setValue('subjects', next, { shouldDirty: true });
  const message = form.formState.errors.subjects?.message;
  return (
    <fieldset disabled={disabled}>
      <Legend>Subject lines, of which the sender takes one</Legend>
      {shown.map((line, i) => (
        <div key={i} className="mt-1 flex gap-2">
          <TextLine
            aria-label={`Subject line ${i + 1}`}
            value={line}
            maxLength={150}
            onText={(text) => put(shown.map((other, n) => (n === i ? text : other)))}
            placeholder="My first pot"
          />
          {shown.length > 1 && (
            <Button
              look="bare"
              aria-label={`Take subject line ${i + 1} out`}
              onClick={() => put(shown.filter((_, n) => n !== i))}
            >
              Take out
            </Button>
          )}
        </div>
      ))}
      {shown.length < mostLines && (
        <Button look="bare" className="mt-1" onClick={() => put([...shown, ''])}>
          One more subject line
        </Button>
      )}
      {typeof message === 'string' && <Wrong role="alert">{message}</Wrong>}
    </fieldset>
  );
}
