import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { fromCsv } from '../../ground/http/csv';
import { Problem, refuse } from '../../ground/http/problem';
import type { StatusLine, StatusReport } from '../../ground/ports';

const lists = new Set(['TxInfAndSts', 'OrgnlPmtInfAndSts', 'StsRsnInf']);
const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  removeNSPrefix: true,
  parseTagValue: false,
  parseAttributeValue: false,
  isArray: (name) => lists.has(name),
  processEntities: false,
});

type Node = Record<string, unknown> | undefined;
const inside = (node: unknown, ...path: string[]): unknown =>
  path.reduce<unknown>((n, key) => (n as Node)?.[key], node);
const textOf = (node: unknown): string | null =>
  typeof node === 'string'
    ? node
    : typeof inside(node, '#text') === 'string'
      ? String(inside(node, '#text'))
      : null;

/** The tree of a text that is XML. The parser has limits of its own: levels, names, entities. */
function parsed(content: string): unknown {
  try {
    return parser.parse(content) as unknown;
  } catch (cause) {
    throw new Problem('invalid', 'Status report: this XML cannot be read', {
      cause,
      errors: [
        {
          pointer: '/content',
          detail: `Status report: this XML cannot be read: ${cause instanceof Error ? cause.message.slice(0, 120) : 'it is too strange'}`,
        },
      ],
    });
  }
}

function fromXml(content: string): StatusReport {
  const valid = XMLValidator.validate(content);
  if (valid !== true)
    throw refuse('content', `Status report: the XML is broken in line ${valid.err.line}: ${valid.err.msg}`);
  const report = inside(parsed(content), 'Document', 'CstmrPmtStsRpt');
  if (!report)
    throw refuse(
      'content',
      'Status report: this XML is no payment status report (pain.002): CstmrPmtStsRpt is missing',
    );
  const messageId = textOf(inside(report, 'OrgnlGrpInfAndSts', 'OrgnlMsgId'))?.trim() ?? '';
  if (!messageId)
    throw refuse(
      'content',
      'Status report: it does not say which file it answers: OrgnlGrpInfAndSts with OrgnlMsgId is missing',
    );
  const blocks = (inside(report, 'OrgnlPmtInfAndSts') ?? []) as unknown[];
  const lines = blocks.flatMap((block) =>
    ((inside(block, 'TxInfAndSts') ?? []) as unknown[]).map((t): StatusLine => {
      const amount = inside(t, 'OrgnlTxRef', 'Amt', 'InstdAmt');
      return {
        endToEnd: textOf(inside(t, 'OrgnlEndToEndId')) ?? '',
        status: textOf(inside(t, 'TxSts')) ?? '',
        amount: amount === undefined ? null : (textOf(amount) ?? ''),
        currency: amount === undefined ? null : (textOf(inside(amount, '@Ccy')) ?? ''),
        reason: textOf(inside((inside(t, 'StsRsnInf') as unknown[] | undefined)?.[0], 'Rsn', 'Cd')),
      };
    }),
  );
  return { messageId, lines };
}

function fromTable(content: string): StatusReport {
  const { headings, rows, faults } = fromCsv(content);
  if (!rows.length || !headings.includes('end_to_end_id') || !headings.includes('status')) {
    throw refuse(
      'content',
      'Status report: neither a pain.002 nor a CSV with the columns end_to_end_id and status',
      'end_to_end_id,status,reason',
    );
  }
  if (faults.length)
    throw refuse(
      'content',
      `Status report: ${faults
        .slice(0, 3)
        .map((f) => `line ${f.line} ${f.said}`)
        .join('; ')}`,
    );
  const named = [...new Set(rows.map((r) => r.cells.message_id?.trim() ?? '').filter(Boolean))];
  if (named.length > 1)
    throw refuse(
      'content',
      `Status report: its lines answer ${named.length} files (${named.slice(0, 2).join(', ')} …); read one at a time`,
    );
  return {
    messageId: named[0] ?? null,
    lines: rows.map(({ cells: c }) => ({
      endToEnd: c.end_to_end_id?.trim() ?? '',
      status: (c.status ?? '').trim().toUpperCase(),
      reason: c.reason?.trim() || null,
      amount: c.amount?.trim() || null,
      currency: c.currency?.trim().toUpperCase() || null,
    })),
  };
}

/**
 * Reads a status report, pain.002 or CSV. Pure and slow for long ones: the server has it done in a thread.
 * @throws Problem `invalid` at `content` if it is neither, does not say what it answers, or has no lines
 */
export function readStatusFile(content: string): StatusReport {
  const report = content
    .trimStart()
    .replace(/^\uFEFF/, '')
    .startsWith('<')
    ? fromXml(content)
    : fromTable(content);
  if (!report.lines.length) throw refuse('content', 'Status report: it speaks of no payment');
  return report;
}
