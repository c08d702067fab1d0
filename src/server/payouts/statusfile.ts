import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { parseAmount } from '../../core/money/amount';
import { fromCsv } from '../http/csv';
import { refuse } from '../http/problem';

export interface StatusLine {
  endToEnd: string;
  status: string;
  reason: string | null;
  /** the original amount, where the bank repeats it, minor units */
  amount: number | null;
}

const parser = new XMLParser({ ignoreAttributes: true, removeNSPrefix: true, parseTagValue: false, isArray: (name) => name === 'TxInfAndSts' || name === 'OrgnlPmtInfAndSts' || name === 'StsRsnInf', processEntities: false });

type Node = Record<string, unknown> | undefined;
const inside = (node: unknown, ...path: string[]): unknown => path.reduce<unknown>((n, key) => (n as Node)?.[key], node);

function fromXml(content: string, currency: string): StatusLine[] {
  const valid = XMLValidator.validate(content);
  if (valid !== true) throw refuse('content', `Status report: the XML is broken in line ${valid.err.line}: ${valid.err.msg}`);
  const report = inside(parser.parse(content), 'Document', 'CstmrPmtStsRpt');
  if (!report) throw refuse('content', 'Status report: this XML is no payment status report (pain.002): CstmrPmtStsRpt is missing');
  const blocks = (inside(report, 'OrgnlPmtInfAndSts') ?? []) as unknown[];
  return blocks.flatMap((block) => ((inside(block, 'TxInfAndSts') ?? []) as unknown[]).map((t): StatusLine => {
    const reasons = inside(t, 'StsRsnInf') as unknown[] | undefined;
    const amount = inside(t, 'OrgnlTxRef', 'Amt', 'InstdAmt');
    const parsed = typeof amount === 'string' ? parseAmount(amount, currency) : null;
    return {
      endToEnd: String(inside(t, 'OrgnlEndToEndId') ?? ''), status: String(inside(t, 'TxSts') ?? ''), amount: parsed?.ok ? parsed.value : null,
      reason: (inside(reasons?.[0], 'Rsn', 'Cd') as string | undefined) ?? null,
    };
  }));
}

function fromTable(content: string, currency: string): StatusLine[] {
  const { rows, faults } = fromCsv(content);
  if (faults.length) throw refuse('content', `Status report: ${faults.slice(0, 3).join('; ')}`);
  if (!rows.length || !('end_to_end_id' in rows[0]!) || !('status' in rows[0]!)) {
    throw refuse('content', 'Status report: neither a pain.002 nor a CSV with the columns end_to_end_id and status', 'end_to_end_id,status,reason');
  }
  return rows.map((r) => {
    const parsed = r.amount ? parseAmount(r.amount, currency) : null;
    return { endToEnd: r.end_to_end_id ?? '', status: (r.status ?? '').trim().toUpperCase(), reason: r.reason?.trim() || null, amount: parsed?.ok ? parsed.value : null };
  });
}

/**
 * Reads a status report, pain.002 or CSV.
 * @throws Problem `invalid` at `content` if it is neither or has no lines
 */
export function readStatusLines(content: string, currency: string): StatusLine[] {
  const lines = content.trimStart().replace(/^\uFEFF/, '').startsWith('<') ? fromXml(content, currency) : fromTable(content, currency);
  if (!lines.length) throw refuse('content', 'Status report: it speaks of no payment');
  return lines;
}
