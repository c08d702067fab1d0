import fc from 'fast-check';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { Problem } from '../../ground/http/problem';
import { faultOfPain001, writePain001, type TransferFile } from '../bank/pain001';
import { readStatusFile } from '../bank/statusfile';

const file = (payments: TransferFile['payments'], currency = 'EUR'): TransferFile => ({
  messageId: 'GVN-1',
  createdAt: Date.parse('2027-03-12T10:00:00Z'),
  executeOn: '2027-03-12',
  debtor: { name: 'Quernstone & Daughters', iban: 'PT50000201231234567890154' },
  currency,
  payments,
});
const parsed = (xml: string) =>
  (
    new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      parseTagValue: false,
      isArray: (n) => n === 'CdtTrfTxInf',
    }).parse(xml) as {
      Document: {
        '@xmlns': string;
        CstmrCdtTrfInitn: {
          GrpHdr: { NbOfTxs: string; CtrlSum: string; CreDtTm: string; InitgPty: { Nm: string } };
          PmtInf: {
            CtrlSum: string;
            NbOfTxs: string;
            ReqdExctnDt: { Dt: string };
            CdtTrfTxInf: {
              PmtId: { EndToEndId: string };
              Amt: { InstdAmt: { '#text': string; '@Ccy': string } };
              Cdtr: { Nm: string };
              RmtInf: { Ustrd: string };
            }[];
          };
        };
      };
    }
  ).Document;

it('the payment file: has the order of elements that the schema asks for', () => {
  const xml = writePain001(
    file([{ endToEnd: 'E-1', amount: 1250, holder: 'Ann', iban: 'GB33BUKB20201555555555', text: 'x' }]),
  );
  const names = [...xml.matchAll(/<(\w+)[ >]/g)].map((m) => m[1]);
  const block = names.slice(names.indexOf('PmtInf'));
  expect(
    block.filter((n) =>
      [
        'PmtInfId',
        'PmtMtd',
        'NbOfTxs',
        'CtrlSum',
        'PmtTpInf',
        'ReqdExctnDt',
        'Dbtr',
        'DbtrAcct',
        'DbtrAgt',
        'ChrgBr',
        'CdtTrfTxInf',
      ].includes(n!),
    ),
  ).toEqual([
    'PmtInfId',
    'PmtMtd',
    'NbOfTxs',
    'CtrlSum',
    'PmtTpInf',
    'ReqdExctnDt',
    'Dbtr',
    'DbtrAcct',
    'DbtrAgt',
    'ChrgBr',
    'CdtTrfTxInf',
  ]);
});
it('the payment file: writes names as banks take them, whole through XML, and cuts them at 70', () => {
  const doc = parsed(
    writePain001(
      file([
        {
          endToEnd: 'E-1',
          amount: 1,
          holder: '<Ann> & "Bob" é',
          iban: 'GB33BUKB20201555555555',
          text: 'ü'.repeat(200),
        },
        { endToEnd: 'E-2', amount: 1, holder: 'x'.repeat(90), iban: 'GB33BUKB20201555555555', text: '' },
      ]),
    ),
  );
  const lines = doc.CstmrCdtTrfInitn.PmtInf.CdtTrfTxInf;
  expect(lines[0]!.Cdtr.Nm).toBe("Ann + 'Bob' e");
  expect([lines[0]!.RmtInf.Ustrd.length, lines[1]!.Cdtr.Nm.length]).toEqual([140, 70]);
});
it('the payment file: sums are those of the lines, in any currency', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 10_000_000 }), { minLength: 1, maxLength: 20 }),
      fc.constantFrom(['EUR', 2], ['JPY', 0], ['KWD', 3] as const),
      (amounts, [currency, digits]) => {
        const doc = parsed(
          writePain001(
            file(
              amounts.map((amount, i) => ({
                endToEnd: `E-${i}`,
                amount,
                holder: 'A',
                iban: 'X',
                text: 'x',
              })),
              currency as string,
            ),
          ),
        );
        const minor = (text: string) => Number(text.replace('.', ''));
        const { GrpHdr, PmtInf } = doc.CstmrCdtTrfInitn;
        expect(GrpHdr.NbOfTxs).toBe(String(amounts.length));
        expect(minor(GrpHdr.CtrlSum)).toBe(amounts.reduce((a, b) => a + b, 0));
        expect(PmtInf.CdtTrfTxInf.map((t) => minor(t.Amt.InstdAmt['#text']))).toEqual(amounts);
        expect(
          PmtInf.CdtTrfTxInf.every(
            (t) =>
              t.Amt.InstdAmt['@Ccy'] === currency &&
              (t.Amt.InstdAmt['#text'].split('.')[1]?.length ?? 0) === digits,
          ),
        ).toBe(true);
      },
    ),
    { numRuns: 60 },
  );
});

const pain002 = (transactions: string, prefix = '') => {
  const p = prefix ? `${prefix}:` : '';
  return `<?xml version="1.0" encoding="UTF-8"?><${p}Document xmlns${prefix ? `:${prefix}` : ''}="urn:iso:std:iso:20022:tech:xsd:pain.002.001.10"><${p}CstmrPmtStsRpt><${p}GrpHdr><${p}MsgId>S</${p}MsgId></${p}GrpHdr><${p}OrgnlGrpInfAndSts><${p}OrgnlMsgId>GVN-1</${p}OrgnlMsgId></${p}OrgnlGrpInfAndSts><${p}OrgnlPmtInfAndSts>${transactions}</${p}OrgnlPmtInfAndSts></${p}CstmrPmtStsRpt></${p}Document>`;
};

describe('reading the payment file back', () => {
  const transfers = file([
    { endToEnd: 'E-1', amount: 1250, holder: 'Ann', iban: 'GB33BUKB20201555555555', text: 'x' },
    { endToEnd: 'E-2', amount: 99, holder: 'Inês', iban: 'PT50000201231234567890154', text: 'y' },
  ]);
  const xml = writePain001(transfers);
  it('finds nothing wrong with what was written', () => {
    expect(faultOfPain001(xml, transfers)).toBeNull();
  });
  it.each([
    ['cut off', (x: string) => x.slice(0, -20), /no XML/],
    ['a sum that is another', (x: string) => x.replace('<CtrlSum>13.49', '<CtrlSum>13.50'), /sum/],
    [
      'a line less',
      (x: string) => x.replace(/<CdtTrfTxInf>[\s\S]*?<\/CdtTrfTxInf>/, ''),
      /1 payments in place of 2/,
    ],
    ['another account', (x: string) => x.replace('GB33', 'GB34'), /payment 1, to “Ann”/],
    ['no name', (x: string) => x.replace('<Nm>Ines</Nm>', '<Nm/>'), /payment 2, to “Inês”/],
    ['another document', (x: string) => x.replaceAll('CstmrCdtTrfInitn', 'Other'), /no credit transfer/],
  ] as [string, (x: string) => string, RegExp][])('%s is found', (_, spoil, said) => {
    expect(faultOfPain001(spoil(xml), transfers)).toMatch(said);
  });
  it('a holder of nothing that banks take is found', () => {
    const strange = file([
      { endToEnd: 'E-1', amount: 1, holder: '陶芸', iban: 'GB33BUKB20201555555555', text: 'x' },
    ]);
    expect(faultOfPain001(writePain001(strange), strange)).toMatch(/payment 1/);
  });
});

describe('the status report', () => {
  it('is read with reasons and amounts, one line or many, with a prefix or without', () => {
    expect(
      readStatusFile(
        pain002('<TxInfAndSts><OrgnlEndToEndId>E-1</OrgnlEndToEndId><TxSts>ACSC</TxSts></TxInfAndSts>'),
      ),
    ).toEqual({
      messageId: 'GVN-1',
      lines: [{ endToEnd: 'E-1', status: 'ACSC', reason: null, amount: null, currency: null }],
    });
    expect(
      readStatusFile(
        pain002(
          '<n:TxInfAndSts><n:OrgnlEndToEndId>E-1</n:OrgnlEndToEndId><n:TxSts>RJCT</n:TxSts><n:StsRsnInf><n:Rsn><n:Cd>AC04</n:Cd></n:Rsn></n:StsRsnInf><n:OrgnlTxRef><n:Amt><n:InstdAmt Ccy="EUR">12.50</n:InstdAmt></n:Amt></n:OrgnlTxRef></n:TxInfAndSts><n:TxInfAndSts><n:OrgnlEndToEndId>007</n:OrgnlEndToEndId><n:TxSts>PDNG</n:TxSts></n:TxInfAndSts>',
          'n',
        ),
      ).lines,
    ).toEqual([
      { endToEnd: 'E-1', status: 'RJCT', reason: 'AC04', amount: '12.50', currency: 'EUR' },
      { endToEnd: '007', status: 'PDNG', reason: null, amount: null, currency: null },
    ]);
  });
  it('is read as CSV with any of the usual separators', () => {
    for (const separator of [',', ';', '\t']) {
      expect(
        readStatusFile(
          ['end_to_end_id', 'status', 'reason', 'amount'].join(separator) +
            '\n' +
            ['E-1', 'rjct', ' AC04 ', '12.50'].join(separator),
        ),
      ).toEqual({
        messageId: null,
        lines: [{ endToEnd: 'E-1', status: 'RJCT', reason: 'AC04', amount: '12.50', currency: null }],
      });
    }
  });
  it.each([
    ['', /neither/],
    ['<html><body/></html>', /no payment status report/],
    ['<a>', /broken in line 1/],
    [pain002(''), /speaks of no payment/],
    ['name,amount\nx,1', /neither/],
    [pain002('<TxInfAndSts/>').replace('GVN-1', ' '), /does not say which file it answers/],
    ['end_to_end_id,status,message_id\nE-1,ACSC,A\nE-2,ACSC,B\n', /answer 2 files/],
    ['<a>'.repeat(300) + '</a>'.repeat(300), /cannot be read|no payment status report/],
    ['<Document><__proto__><x/></__proto__></Document>', /cannot be read|no payment status report/],
    ['<!DOCTYPE x [<!ENTITY a "b">]><Document>&a;</Document>', /no payment status report|broken/],
  ])('%j is refused at its field', (content, reason) => {
    const refusal = () => readStatusFile(content);
    expect(refusal).toThrow(Problem);
    expect(refusal).toThrow(reason);
  });
});
