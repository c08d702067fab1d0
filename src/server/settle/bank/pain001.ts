import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { create } from 'xmlbuilder2';
import { toDecimal } from '../../../core/money/amount';
import { asTransferText } from '../../../core/payouts/characters';

export interface TransferFile {
  messageId: string;
  createdAt: number;
  executeOn: string;
  debtor: { name: string; iban: string };
  currency: string;
  payments: readonly { endToEnd: string; amount: number; holder: string; iban: string; text: string }[];
}

// Max70Text and Max140Text of the schema, in the characters that banks take
const name = (text: string) => asTransferText(text).slice(0, 70);

/**
 * A customer credit transfer initiation, ISO 20022 pain.001.001.09: one payment information block, a transaction a payee.
 * Sums are those of the transactions.
 */
export function writePain001(file: TransferFile): string {
  const sum = toDecimal(
    file.payments.reduce((s, p) => s + p.amount, 0),
    file.currency,
  );
  const count = String(file.payments.length);
  const root = create({ version: '1.0', encoding: 'UTF-8' })
    .ele('urn:iso:std:iso:20022:tech:xsd:pain.001.001.09', 'Document')
    .ele('CstmrCdtTrfInitn');
  const header = root.ele('GrpHdr');
  header.ele('MsgId').txt(file.messageId);
  header.ele('CreDtTm').txt(new Date(file.createdAt).toISOString());
  header.ele('NbOfTxs').txt(count);
  header.ele('CtrlSum').txt(sum);
  header.ele('InitgPty').ele('Nm').txt(name(file.debtor.name));
  const block = root.ele('PmtInf');
  block.ele('PmtInfId').txt(`${file.messageId}-1`);
  block.ele('PmtMtd').txt('TRF');
  block.ele('NbOfTxs').txt(count);
  block.ele('CtrlSum').txt(sum);
  block.ele('PmtTpInf').ele('SvcLvl').ele('Cd').txt('SEPA');
  block.ele('ReqdExctnDt').ele('Dt').txt(file.executeOn);
  block.ele('Dbtr').ele('Nm').txt(name(file.debtor.name));
  block.ele('DbtrAcct').ele('Id').ele('IBAN').txt(file.debtor.iban);
  block.ele('DbtrAgt').ele('FinInstnId').ele('Othr').ele('Id').txt('NOTPROVIDED');
  block.ele('ChrgBr').txt('SLEV');
  for (const p of file.payments) {
    const transaction = block.ele('CdtTrfTxInf');
    transaction.ele('PmtId').ele('EndToEndId').txt(p.endToEnd);
    transaction.ele('Amt').ele('InstdAmt', { Ccy: file.currency }).txt(toDecimal(p.amount, file.currency));
    transaction.ele('Cdtr').ele('Nm').txt(name(p.holder));
    transaction.ele('CdtrAcct').ele('Id').ele('IBAN').txt(p.iban);
    transaction.ele('RmtInf').ele('Ustrd').txt(asTransferText(p.text).slice(0, 140));
  }
  return root.end({ prettyPrint: true });
}

interface ReadBack {
  Document?: {
    CstmrCdtTrfInitn?: {
      GrpHdr: { MsgId: string; NbOfTxs: string; CtrlSum: string };
      PmtInf: {
        CdtTrfTxInf: {
          PmtId: { EndToEndId: string };
          Amt: { InstdAmt: string };
          Cdtr: { Nm?: string };
          CdtrAcct: { Id: { IBAN: string } };
        }[];
      };
    };
  };
}

const reader = new XMLParser({
  ignoreAttributes: true,
  parseTagValue: false,
  isArray: (tag) => tag === 'CdtTrfTxInf',
});

/** Reads a file back as a bank would and compares it with what it was written from. @returns what is wrong with it; null if nothing is */
export function faultOfPain001(xml: string, file: TransferFile): string | null {
  const form = XMLValidator.validate(xml);
  if (form !== true) return `it is no XML: ${form.err.msg} in line ${form.err.line}`;
  const root = (reader.parse(xml) as ReadBack).Document?.CstmrCdtTrfInitn;
  if (!root) return 'it is no credit transfer';
  const lines = root.PmtInf.CdtTrfTxInf;
  if (lines.length !== file.payments.length || root.GrpHdr.NbOfTxs !== String(file.payments.length))
    return `it holds ${lines.length} payments in place of ${file.payments.length}`;
  if (
    root.GrpHdr.CtrlSum !==
    toDecimal(
      file.payments.reduce((s, p) => s + p.amount, 0),
      file.currency,
    )
  )
    return 'its sum is not the sum of the payments';
  const wrong = file.payments.findIndex((p, i) => {
    const line = lines[i]!;
    return (
      line.PmtId.EndToEndId !== p.endToEnd ||
      line.Amt.InstdAmt !== toDecimal(p.amount, file.currency) ||
      line.CdtrAcct.Id.IBAN !== p.iban ||
      !line.Cdtr.Nm ||
      line.Cdtr.Nm !== name(p.holder)
    );
  });
  return wrong < 0
    ? null
    : `payment ${wrong + 1}, to “${file.payments[wrong]!.holder.slice(0, 40)}”, does not read back as it was written`;
}
