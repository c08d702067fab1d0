import express, { type Express } from 'express';
import { XMLParser } from 'fast-xml-parser';
import { create } from 'xmlbuilder2';
import type { BankPort } from '../server/ground/ports';
import { escape, page } from './html';
import { readSwitch, setSwitch, type StandinDb } from './store';

interface Line {
  endToEnd: string;
  name: string;
  iban: string;
  amount: string;
  currency: string;
  status: 'waiting' | 'ACSC' | 'RJCT';
  reason: string;
}
interface FileRow {
  id: string;
  name: string;
  at: number;
  xml: string;
  lines: string;
}

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  removeNSPrefix: true,
  isArray: (name) => name === 'CdtTrfTxInf' || name === 'PmtInf',
});

interface Transfer {
  PmtId: { EndToEndId: string };
  Amt: { InstdAmt: { '#text': string; '@Ccy': string } };
  Cdtr: { Nm: string };
  CdtrAcct: { Id: { IBAN: string } };
}
interface Pain001 {
  Document?: {
    CstmrCdtTrfInitn?: {
      GrpHdr: { MsgId: string; NbOfTxs: string; CtrlSum: string };
      PmtInf: { CdtTrfTxInf: Transfer[] }[];
    };
  };
}

/** A decimal string in thousandths, without floats. */
function thousandths(text: string): bigint {
  const [units = '0', fraction = ''] = text.split('.');
  return BigInt(units + fraction.padEnd(3, '0'));
}

/** Reads a payment file as a bank does: counts and sums must fit. @throws Error with the reason */
function readFile(xml: string): { id: string; lines: Line[] } {
  const root = (parser.parse(xml) as Pain001).Document?.CstmrCdtTrfInitn;
  if (!root) throw new Error('This is no credit transfer initiation (pain.001)');
  const lines = root.PmtInf.flatMap((block) =>
    block.CdtTrfTxInf.map((t): Line => ({
      endToEnd: t.PmtId.EndToEndId,
      name: t.Cdtr.Nm,
      iban: t.CdtrAcct.Id.IBAN,
      amount: t.Amt.InstdAmt['#text'],
      currency: t.Amt.InstdAmt['@Ccy'],
      status: 'waiting',
      reason: '',
    })),
  );
  if (String(lines.length) !== root.GrpHdr.NbOfTxs)
    throw new Error(`NbOfTxs says ${root.GrpHdr.NbOfTxs}, the file has ${lines.length}`);
  if (lines.reduce((s, l) => s + thousandths(l.amount), 0n) !== thousandths(root.GrpHdr.CtrlSum))
    throw new Error('CtrlSum is not the sum of the transactions');
  return { id: root.GrpHdr.MsgId, lines };
}

/** A status report, ISO 20022 pain.002.001.10, about some lines of a file. */
function writePain002(file: string, number: number, lines: Line[]): string {
  const root = create({ version: '1.0', encoding: 'UTF-8' })
    .ele('urn:iso:std:iso:20022:tech:xsd:pain.002.001.10', 'Document')
    .ele('CstmrPmtStsRpt');
  const header = root.ele('GrpHdr');
  header.ele('MsgId').txt(`STATUS-${number}`);
  header.ele('CreDtTm').txt(new Date().toISOString());
  const original = root.ele('OrgnlGrpInfAndSts');
  original.ele('OrgnlMsgId').txt(file);
  original.ele('OrgnlMsgNmId').txt('pain.001.001.09');
  const block = root.ele('OrgnlPmtInfAndSts');
  block.ele('OrgnlPmtInfId').txt(`${file}-1`);
  for (const line of lines) {
    const transaction = block.ele('TxInfAndSts');
    transaction.ele('OrgnlEndToEndId').txt(line.endToEnd);
    transaction.ele('TxSts').txt(line.status);
    if (line.reason) transaction.ele('StsRsnInf').ele('Rsn').ele('Cd').txt(line.reason);
    transaction.ele('OrgnlTxRef').ele('Amt').ele('InstdAmt', { Ccy: line.currency }).txt(line.amount);
  }
  return root.end({ prettyPrint: true });
}

const reasonChoice = ['', 'AC04', 'AC01', 'AC06', 'BE01'];

/** Answers a file: lines without a reason are carried out. @param returning also lines that were carried out before may come back */
function answerFile(db: StandinDb, row: FileRow, reasons: Record<string, string>, returning: boolean): void {
  const broke = readSwitch(db, 'bank-broke') === 'on';
  const lines = JSON.parse(row.lines) as Line[];
  const answered = lines.filter(
    (l) =>
      (l.status === 'waiting' && !returning) || (returning && l.status === 'ACSC' && reasons[l.endToEnd]),
  );
  if (!answered.length) return;
  for (const line of answered) {
    line.reason = broke && !returning ? 'AM04' : (reasons[line.endToEnd] ?? '');
    line.status = line.reason ? 'RJCT' : 'ACSC';
  }
  const number = (db.prepare('SELECT count(*) FROM bank_reports').pluck().get() as number) + 1;
  db.transaction(() => {
    db.prepare('UPDATE bank_files SET lines = ? WHERE id = ?').run(JSON.stringify(lines), row.id);
    db.prepare('INSERT INTO bank_reports (file, name, xml) VALUES (?, ?, ?)').run(
      row.id,
      `status-${number}.xml`,
      writePain002(row.id, number, answered),
    );
  })();
}

function fileView(row: FileRow): string {
  const lines = JSON.parse(row.lines) as Line[];
  const waiting = lines.some((l) => l.status === 'waiting');
  const choice = (l: Line) =>
    `<select name="${escape(l.endToEnd)}" aria-label="Reject ${escape(l.name)}">${reasonChoice.map((r) => `<option value="${r}">${r || (waiting ? 'carry out' : 'leave')}</option>`).join('')}</select>`;
  return `<h2>${escape(row.name)}</h2><form method="post" action="/bank/files/${escape(row.id)}/answer"><input type="hidden" name="returning" value="${waiting ? '' : 'on'}"><table><tr><th>Payee<th>Account<th class="r">Amount<th>State<th></tr>
    ${lines.map((l) => `<tr><td>${escape(l.name)}<td>${escape(l.iban)}<td class="r">${escape(l.amount)} ${escape(l.currency)}<td>${l.status === 'waiting' ? 'waiting' : l.status === 'ACSC' ? 'carried out' : `<span class="bad">came back, ${escape(l.reason)}</span>`}<td>${l.status === 'RJCT' ? '' : choice(l)}</tr>`).join('')}
    </table><p><button>${waiting ? 'Answer this file' : 'Return the chosen'}</button></p></form>`;
}

/** The files that were handed over, the reports on them, and the switches. */
function bankPage(db: StandinDb): string {
  const files = db.prepare('SELECT * FROM bank_files ORDER BY at DESC LIMIT 50').all() as FileRow[];
  const reports = db
    .prepare('SELECT name FROM bank_reports ORDER BY id DESC LIMIT 50')
    .pluck()
    .all() as string[];
  const box = (name: string, text: string) =>
    `<label class="check"><input type="checkbox" name="${name}" value="on"${readSwitch(db, name) === 'on' ? ' checked' : ''}> ${text}</label>`;
  return `${files.map(fileView).join('') || '<p>No file has been handed over yet.</p>'}
      <h2>Status reports</h2><p>${reports.map((r) => `<a href="/bank/reports/${escape(r)}">${escape(r)}</a>`).join(' · ') || 'None yet.'}</p>
      <h2>Switches</h2><form class="line" method="post" action="/bank/switches">${box('bank-down', 'be down')}${box('bank-broke', 'be out of funds')}<button class="q">Keep</button></form>`;
}

/** The bank: takes files, shows them, answers with status reports. */
export function bankPages(server: Express, db: StandinDb): void {
  const down = () => readSwitch(db, 'bank-down') === 'on';
  server.post('/bank/files', express.text({ type: () => true, limit: '50mb' }), (req, res) => {
    if (down()) return res.status(503).json({ said: 'The bank is closed' });
    try {
      const xml = String(req.body);
      const { id, lines } = readFile(xml);
      const name = (req.get('x-file-name') ?? `${id}.xml`).slice(0, 200);
      const made = db
        .prepare(
          'INSERT INTO bank_files (id, name, at, xml, lines) VALUES (?, ?, ?, ?, ?) ON CONFLICT (id) DO NOTHING',
        )
        .run(id, name, Date.now(), xml, JSON.stringify(lines));
      return res
        .status(made.changes ? 201 : 200)
        .json({ id, lines: lines.length, repeated: made.changes === 0 });
    } catch (fault) {
      return res
        .status(422)
        .json({ said: fault instanceof Error ? fault.message : 'The file cannot be read' });
    }
  });
  server.get('/bank/files.json', (_req, res) => {
    res.json(
      (db.prepare('SELECT * FROM bank_files ORDER BY at').all() as FileRow[]).map((f) => ({
        id: f.id,
        name: f.name,
        lines: JSON.parse(f.lines) as Line[],
      })),
    );
  });
  server.get('/bank/reports.json', (_req, res) => {
    if (down()) return res.status(503).json({ said: 'The bank is closed' });
    return res.json(db.prepare('SELECT name, xml AS content FROM bank_reports ORDER BY id').all());
  });
  server.get('/bank/reports/:name', (req, res) => {
    const row = db.prepare('SELECT xml FROM bank_reports WHERE name = ?').get(req.params.name) as
      { xml: string } | undefined;
    if (!row) return res.status(404).send(page('Bank', 'No such report', ''));
    return res.type('xml').attachment(req.params.name).send(row.xml);
  });
  server.post('/bank/files/:id/answer', (req, res) => {
    const row = db.prepare('SELECT * FROM bank_files WHERE id = ?').get(req.params.id) as FileRow | undefined;
    if (!row) return res.status(404).send(page('Bank', 'No such file', ''));
    const { returning, ...reasons } = req.body as Record<string, string>;
    answerFile(db, row, reasons, returning === 'on');
    return res.redirect(303, '/bank');
  });
  server.post('/bank/switches', (req, res) => {
    const on = req.body as Record<string, string>;
    setSwitch(db, 'bank-down', on['bank-down'] ?? '');
    setSwitch(db, 'bank-broke', on['bank-broke'] ?? '');
    res.redirect(303, '/bank');
  });
  server.get('/bank', (_req, res) => {
    res.send(page('Bank', 'Payment files', bankPage(db)));
  });
}

/** The bank port over HTTP, as to an outside service. @param address of the stand-ins */
export function bankClient(address: string): BankPort {
  const timeout = () => AbortSignal.timeout(15_000);
  return {
    async deliver(name, file) {
      const answer = await fetch(`${address}/bank/files`, {
        method: 'POST',
        body: file,
        headers: { 'content-type': 'application/xml', 'x-file-name': name },
        signal: timeout(),
      });
      if (!answer.ok) throw new Error(`The bank answered ${answer.status}`);
    },
    async reports() {
      const answer = await fetch(`${address}/bank/reports.json`, { signal: timeout() });
      if (!answer.ok) throw new Error(`The bank answered ${answer.status}`);
      return (await answer.json()) as { name: string; content: string }[];
    },
  };
}
