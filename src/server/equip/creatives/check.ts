import type { FieldFault } from '../../../contract/explain';
import {
  creativeFaults,
  trimmedCreative,
  type CreativeFault,
  type CreativeFields,
} from '../../../core/material/creative';
import type { CreativeKind } from '../../../core/material/lists';
import { mostPieceBytes, pieceAdvice, pieceFaults } from '../../../core/material/piece';
import { sizeInWords } from '../../../core/text/plain';
import type { App } from '../../ground/context';
import { atField, invalid } from '../../ground/http/problem';
import { keptProducts } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { liveValues } from '../../setup/terms/live';
import { audienceFaults } from '../audience/audience';
import { fileByHash } from './files';
import { subjectsInUse } from './list';
import { readPiece } from './piece';

const mostSubjects = 40;

/** Hosts that are the merchant's or ours: what a piece loads from them, readers are not followed by. */
function ownHosts(app: App): ReadonlySet<string> {
  return new Set([...theProgramme(app).landingHosts, new URL(app.address).host]);
}

const factsOf = (app: App, code: string) => readPiece(code, ownHosts(app));

/** What who uses a piece should know beforehand. */
export function adviceOf(app: App, kind: CreativeKind, fields: CreativeFields): string[] {
  if (kind === 'html') return pieceAdvice(factsOf(app, fields.code));
  const file = fields.file === null ? undefined : fileByHash(app, fields.file);
  if (kind !== 'banner' || !file?.asWebp) return [];
  return [
    `It has ${sizeInWords(file.bytes)}, which readers on phones wait for; as WebP it would have ${sizeInWords(file.asWebp)}.`,
  ];
}

function codeFaults(app: App, code: string): CreativeFault[] {
  if (code === '')
    return [
      { field: 'code', detail: 'Code: it is missing', example: '<a href="{link}">A wheel that fits</a>' },
    ];
  if (Buffer.byteLength(code) > mostPieceBytes)
    return [
      { field: 'code', detail: `Code: it has ${sizeInWords(Buffer.byteLength(code))}, at most 100 KB` },
    ];
  return pieceFaults(factsOf(app, code)).map((why) => ({
    field: 'code',
    detail: `Code: ${why}`,
    example: '<a href="{link}">A wheel that fits</a>',
  }));
}

/** A file of the kind that a field wants. */
function fileFaults(app: App, kind: CreativeKind, { file, poster }: CreativeFields): CreativeFault[] {
  const faults: CreativeFault[] = [];
  const look = (field: 'file' | 'poster', hash: string | null, begins: string, wanted: string) => {
    if (hash === null) return;
    const row = fileByHash(app, hash);
    if (!row) faults.push({ field, detail: `${wanted}: upload it first` });
    else if (!row.type.startsWith(begins)) faults.push({ field, detail: `${wanted} is wanted here` });
  };
  if (kind === 'banner') look('file', file, 'image/', 'A picture');
  if (kind === 'video') look('file', file, 'video/', 'A video');
  look('poster', poster, 'image/', 'A picture');
  return faults;
}

function productFaults(app: App, { products }: CreativeFields): CreativeFault[] {
  const known = new Map(keptProducts(app).map((p) => [p.id, p]));
  const missing = products.filter((id) => !known.has(id));
  return missing.length ? [{ field: 'products', detail: 'Products: one of them does not exist' }] : [];
}

function subjectFaults(known: readonly string[], { subject }: CreativeFields): CreativeFault[] {
  return subject === '' || known.includes(subject) || known.length < mostSubjects
    ? []
    : [
        {
          field: 'subject',
          detail: `Subject: there are ${mostSubjects} already, which is as many as can be looked through; take one of them`,
          ...(known[0] ? { example: known[0] } : {}),
        },
      ];
}

/** What stays of a subject that is there already in another case: that one. */
const knownSubject = (subjects: readonly string[], subject: string): string =>
  subjects.find((known) => known.toLowerCase() === subject.toLowerCase()) ?? subject;

/** Every fault of a creative, each at its field. @param subjects those in use: read once for many */
export function faultsOf(
  app: App,
  kind: CreativeKind,
  fields: CreativeFields,
  subjects: readonly string[] = subjectsInUse(app),
): FieldFault[] {
  const { words, around, alt, note, body, subjects: lines } = fields;
  const texts = [words, around, alt, note, body, ...lines];
  // most have nothing in braces, and many are looked at in one act
  const live = texts.some((text) => text.includes('{')) ? liveValues(app, null, texts) : {};
  const hosts = theProgramme(app).landingHosts;
  return [
    ...[
      ...productFaults(app, fields),
      ...subjectFaults(subjects, fields),
      ...fileFaults(app, kind, fields),
      ...creativeFaults(kind, fields, { hosts, live }),
      ...(kind === 'html' ? codeFaults(app, fields.code) : []),
    ].map(atField),
    ...audienceFaults(app, fields.audience),
  ];
}

/** The fields as they are kept. @param subjects those in use: read once for many @throws Problem `invalid` with every fault at its field */
export function checked(
  app: App,
  kind: CreativeKind,
  input: CreativeFields,
  subjects: readonly string[] = subjectsInUse(app),
): CreativeFields {
  const fields = trimmedCreative(kind, input);
  const known = { ...fields, subject: knownSubject(subjects, fields.subject) };
  const faults = faultsOf(app, kind, known, subjects);
  if (faults.length) throw invalid(faults);
  return known;
}
