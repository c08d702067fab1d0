import type { WorkingOut } from '../../contract/setup/terms';
import { DottedItem } from './dotted';
import { Said } from './note';
import { Day, Money, Sums } from './text';

/** A line of a working: the rungs with what was considered, then the column of sums. */
export function LineOfWorking({ of: line }: { of: WorkingOut['lines'][number] }) {
  return (
    <>
      <ol>
        {line.rungs.map((rung, n) =>
          rung.rows.map((row, r) => (
            <li
              key={`${n}-${r}`}
              className={`grid grid-cols-[18px_80px_1fr] gap-2 border-b border-dotted border-rule py-1 ${row.outcome === 'wins' ? 'font-semibold' : 'text-ink3'}`}
            >
              <span>{r === 0 && n < 6 ? n + 1 : ''}</span>
              <span>{r === 0 ? rung.rung : ''}</span>
              <span>
                {row.text}
                {row.why ? `, ${row.why}` : ''}
              </span>
            </li>
          )),
        )}
      </ol>
      <div className="mt-3">
        <Sums rows={line.sums} />
      </div>
    </>
  );
}

/** A working: which visit, which rate, why not another, which arithmetic, and every change since. */
export function Working({ working }: { working: WorkingOut }) {
  return (
    <div>
      <p className="text-ink2">
        {working.credit.who ? (
          <>
            <b className="private text-ink">{working.credit.who}</b>: {working.credit.reason}
          </>
        ) : (
          working.credit.reason
        )}
      </p>
      {working.credit.considered.length > 1 && (
        <ul className="mt-2">
          {working.credit.considered.map((c) => (
            <DottedItem key={c.visit} className="text-ink3">
              <Day at={c.at} /> · <span className="private">{c.who}</span>: {c.outcome}
            </DottedItem>
          ))}
        </ul>
      )}
      {working.lines.map((line, i) => (
        <section key={i} className="mt-3">
          {working.lines.length > 1 && <h3 className="mb-1 font-semibold">{line.product}</h3>}
          <LineOfWorking of={line} />
        </section>
      ))}
      {working.exchange && (
        <Said gap={2} faint>
          {working.exchange}
        </Said>
      )}
      {working.changes.length > 0 && (
        <div className="mt-3">
          <h3 className="mb-1 font-semibold">Since then</h3>
          <Sums
            rows={[
              ...working.changes.map((c) => ({
                label: (
                  <>
                    {c.what}, <Day at={c.at} />
                  </>
                ),
                figure: <Money value={c.amount} />,
              })),
              {
                label: 'Left of the commission',
                figure: <Money value={working.left} />,
                weight: 'sum' as const,
              },
            ]}
          />
        </div>
      )}
    </div>
  );
}
