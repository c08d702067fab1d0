import type { ReplyOf } from '../../contract/endpoint';
import type { readPublicPolicy } from '../../contract/setup/policy';
import { State } from './state';
import { Small, Worded } from './text';

type Section = NonNullable<ReplyOf<typeof readPublicPolicy>>['sections'][number];
type Practice = Section['practices'][number];

/** A policy as it is read: sections, practices and facts before text. */
export function PolicySections({ sections }: { sections: Section[] }) {
  return (
    <>
      {sections.map((s) => (
        <section key={s.key} className="mt-4" aria-label={s.title}>
          <h2>{s.title}</h2>
          <Practices practices={s.practices} />
          <FactsOf facts={s.facts} />
          {s.lines.length > 0 && (
            <ul className="mt-1">
              {s.lines.map((l) => (
                <li key={l} dir="auto" className="break-words whitespace-pre-wrap">
                  <Worded text={l} />
                </li>
              ))}
            </ul>
          )}
          {s.text && (
            <p
              dir="auto"
              className="mt-1 max-w-[66ch] font-serif text-[14.5px] leading-[1.55] break-words whitespace-pre-wrap"
            >
              <Worded text={s.text} />
            </p>
          )}
        </section>
      ))}
    </>
  );
}

function FactsOf({ facts }: { facts: Section['facts'] }) {
  if (facts.length === 0) return null;
  return (
    <table className="sums mt-1 max-w-[560px]">
      <tbody>
        {facts.map((f) => (
          <tr key={f.text}>
            <td>{f.text}</td>
            <td className={f.yes ? '' : 'font-semibold'}>{f.yes ? 'yes' : 'no'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The table of practices: each with its answer, its sentence, and who is answered otherwise. */
function Practices({ practices }: { practices: Practice[] }) {
  if (practices.length === 0) return null;
  return (
    <table className="sums mt-1 max-w-[640px]">
      <tbody>
        {practices.map((p) => (
          <tr key={p.key}>
            <td>
              <span dir="auto" className="break-words">
                {p.name}
              </span>
              {p.own && <Small> for you</Small>}
              <Says text={p.says} />
              {p.otherwise.map((o) => (
                <Small key={o.who} below>
                  {o.who}: <State is={o.answer} />
                  {o.says && <span dir="auto"> {o.says}</span>}
                </Small>
              ))}
            </td>
            <td>
              <State is={p.answer} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Says({ text }: { text: string }) {
  if (!text) return null;
  return (
    <span dir="auto" className="block font-serif text-[14px] break-words whitespace-pre-wrap text-ink2">
      <Worded text={text} />
    </span>
  );
}

export interface ChangesShown {
  practices: {
    key: string;
    name: string;
    was: string | null;
    is: string | null;
    parts: Part[];
  }[];
  sections: { key: string; title: string; parts: Part[] }[];
}
interface Part {
  text: string;
  mark: 'same' | 'added' | 'removed';
}

export const countOfChanges = ({ practices, sections }: ChangesShown): number =>
  practices.length + sections.length;

/** What differs from the version before: practices with both answers; of words, what was taken out struck through, what was put in underlined. */
export function PolicyChanges({ changes: { practices, sections } }: { changes: ChangesShown }) {
  return (
    <>
      {practices.map((c) => (
        <section key={c.key} className="mt-3" aria-label={`Changes: ${c.name}`}>
          <h3 className="font-semibold">{c.name}</h3>
          <AnswerChange was={c.was} is={c.is} />
          <Words parts={c.parts} />
        </section>
      ))}
      {sections.map((c) => (
        <section key={c.key} className="mt-3" aria-label={`Changes: ${c.title}`}>
          <h3 className="font-semibold">{c.title}</h3>
          <Words parts={c.parts} />
        </section>
      ))}
    </>
  );
}

/** An answer before and after. */
export function AnswerChange({ was, is }: { was: string | null; is: string | null }) {
  const shown = (answer: string | null) =>
    answer === null ? <span className="text-ink3">not said</span> : <State is={answer} />;
  return (
    <span className="inline-flex items-center gap-2">
      {was === is ? (
        shown(is)
      ) : (
        <>
          {shown(was)} <span aria-label="now">→</span> {shown(is)}
        </>
      )}
    </span>
  );
}

function Words({ parts }: { parts: Part[] }) {
  if (parts.length === 0) return null;
  return (
    <p
      dir="auto"
      className="mt-1 max-w-[66ch] border-l-[3px] border-rule pl-3 break-words whitespace-pre-wrap"
    >
      {parts.map((p, i) =>
        p.mark === 'same' ? (
          <span key={i}>{p.text}</span>
        ) : p.mark === 'added' ? (
          <ins key={i} dir="auto" className="bg-verdigris-wash text-verdigris">
            {p.text}
          </ins>
        ) : (
          <del key={i} dir="auto" className="bg-madder-wash text-madder">
            {p.text}
          </del>
        ),
      )}
    </p>
  );
}
