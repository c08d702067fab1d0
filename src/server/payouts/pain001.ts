import { create } from 'xmlbuilder2';
import { toDecimal } from '../../core/money/amount';

export interface TransferFile {
  messageId: string;
  createdAt: number;
  executeOn: string;
  debtor: { name: string; iban: string };
  currency: string;
  payments: readonly { endToEnd: string; amount: number; holder: string; iban: string; text: string }[];
}

// Max70Text and Max140Text of the schema
const name = (text: string) => text.slice(0, 70);

/**
 * A customer credit transfer initiation, ISO 20022 pain.001.001.09: one payment information block, a transaction a payee.
 * Sums are those of the transactions.
 */
export function writePain001(file: TransferFile): string {
  const sum = toDecimal(file.payments.reduce((s, p) => s + p.amount, 0), file.currency);
  const count = String(file.payments.length);
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('urn:iso:std:iso:20022:tech:xsd:pain.001.001.09', 'Document').ele('CstmrCdtTrfInitn');
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
    transaction.ele('RmtInf').ele('Ustrd').txt(p.text.slice(0, 140));
  }
  return root.end({ prettyPrint: true });
}
