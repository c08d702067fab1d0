import { TextArea } from '../../kit/inputs';
import { Code } from '../../kit/text';

interface GivenProps {
  /** for those who hear it */
  label: string;
  placeholder: string;
  text: string;
  onText: (text: string) => void;
  /** said where a file is not read; without it a file of any size is */
  onFault?: (said: string) => void;
}

const largest = 5_000_000;

/** A list that is typed or pasted, or read from a file. */
export function GivenList({ label, placeholder, text, onText, onFault }: GivenProps) {
  const read = async (file: File | undefined) => {
    if (!file) return;
    if (onFault && file.size > largest) onFault(`${file.name} is larger than 5 MB: read it in by halves.`);
    else onText(await file.text());
  };
  return (
    <>
      <TextArea
        aria-label={label}
        autoFocus
        rows={5}
        value={text}
        onText={onText}
        placeholder={placeholder}
        className="font-mono text-[12px]"
      />
      <label className="mt-1 block text-ink2">
        or a file{' '}
        <input
          type="file"
          accept=".csv,.txt,text/csv,text/plain"
          onChange={(e) => void read(e.target.files?.[0])}
        />
      </label>
    </>
  );
}

/** A line of such a list, and what it would do. */
export interface ReadLine {
  line: number;
  said: string;
  name: string | null;
  outcome: string;
  /** it does nothing: who or what it means is not known */
  wrong: boolean;
}

/** What a list would do, line by line. */
export function ReadLines({ lines }: { lines: readonly ReadLine[] }) {
  return (
    <table className="table">
      <thead>
        <tr>
          <th className="figure">Line</th>
          <th>Written</th>
          <th>Who</th>
          <th>Outcome</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((l, i) => (
          <tr key={i}>
            <td className="figure">{l.line}</td>
            <td>
              <Code>{l.said}</Code>
            </td>
            <td>{l.name || '—'}</td>
            <td className={`whitespace-normal! ${l.wrong ? 'text-madder' : 'text-ink2'}`}>{l.outcome}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
