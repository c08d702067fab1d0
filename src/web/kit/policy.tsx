/** A policy as it is read: sections, facts before text. */
export interface Section {
  key: string;
  title: string;
  facts: { text: string; yes: boolean }[];
  lines: string[];
  text: string;
}

export function PolicySections({ sections }: { sections: Section[] }) {
  return (
    <>
      {sections.map((s) => (
        <section key={s.key} className="mt-4" aria-label={s.title}>
          <h2>{s.title}</h2>
          {s.facts.length > 0 && (
            <table className="sums mt-1 max-w-[560px]">
              <tbody>
                {s.facts.map((f) => (
                  <tr key={f.text}>
                    <td>{f.text}</td>
                    <td className={f.yes ? '' : 'font-semibold'}>{f.yes ? 'yes' : 'no'}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {s.lines.length > 0 && (
            <ul className="mt-1">
              {s.lines.map((l) => (
                <li key={l}>{l}</li>
              ))}
            </ul>
          )}
          {s.text && (
            <p
              dir="auto"
              className="mt-1 max-w-[66ch] font-serif text-[14.5px] leading-[1.55] break-words whitespace-pre-wrap"
            >
              {s.text}
            </p>
          )}
        </section>
      ))}
    </>
  );
}

export interface SectionChange {
  key: string;
  title: string;
  parts: { text: string; mark: 'same' | 'added' | 'removed' }[];
}

/** What differs from the version before: taken out struck through, put in underlined. */
export function PolicyChanges({ sections }: { sections: SectionChange[] }) {
  return (
    <>
      {sections.map((c) => (
        <section key={c.key} className="mt-3" aria-label={`Changes: ${c.title}`}>
          <h3 className="font-semibold">{c.title}</h3>
          <p
            dir="auto"
            className="mt-1 max-w-[66ch] border-l-[3px] border-rule pl-3 break-words whitespace-pre-wrap"
          >
            {c.parts.map((p, i) =>
              p.mark === 'same' ? (
                <span key={i}>{p.text}</span>
              ) : p.mark === 'added' ? (
                <ins key={i} className="bg-verdigris-wash text-verdigris">
                  {p.text}
                </ins>
              ) : (
                <del key={i} className="bg-madder-wash text-madder">
                  {p.text}
                </del>
              ),
            )}
          </p>
        </section>
      ))}
    </>
  );
}
