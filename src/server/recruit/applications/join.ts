import type { Static } from '@sinclair/typebox';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import type { Join } from '../../../contract/recruit/applications';
import { addressKey, emailKey } from '../../../core/recruiting/evidence';
import { kindsIn } from '../../../core/recruiting/kinds';
import type { Promoter } from '../../../core/recruiting/practices';
import { isId, type Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { detailsOf, isRecruiting } from '../../registers/catalogue/details';
import { logoAddress } from '../../registers/catalogue/files';
import { productByCode, productsInUse, type KeptProduct } from '../../registers/catalogue/store';
import { queue, writtenLately } from '../../registers/outbox/queue';
import { openApprovals } from '../../registers/people/approvals';
import { handleFor } from '../../registers/people/names';
import { addAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { noteAcceptance } from '../../setup/policy/acceptance';
import { promoterOf } from '../../setup/policy/readers';
import { readPublicPolicy } from '../../setup/policy/view';
import { openCards } from '../../setup/terms/cards';
import { filled } from '../../setup/terms/live';
import { putInto } from '../../setup/terms/members';
import { publicTerms } from '../../setup/terms/public';
import { type SetRecord } from '../../setup/terms/store';
import { keepMeant, practicesNow } from '../practices/meant';
import { decide } from './decide';
import { indexNote } from './notes';
import { openStates } from './questions';
import { isScreened, letInVouched, screen } from './screening';
import { stillTrusted } from './trust';

/** The affiliate whose address an applicant came by; one who is gone or blocked brings nobody in. */
function bringer(app: App, handle: string) {
  const row = app.db.select().from(affiliates).where(eq(affiliates.handle, handle.toLowerCase())).get();
  return row && row.promotes && (row.state === 'active' || row.state === 'paused') ? row : null;
}

/** Practices as whoever applies reads them: answers for groups are nobody’s business but of those in them. */
function practicesAsked(app: App, group: Promoter['group']) {
  return practicesNow(app).table.map((p) => ({
    key: p.key,
    name: p.name,
    words: p.words,
    answer: p.answer!,
    says: filled(app, p.says),
    exceptions: p.exceptions
      .filter((e) => !isId(e.who, 'set') || e.who === group)
      .map((e) => ({ ...e, says: filled(app, e.says) })),
  }));
}

/** What the public join page shows; only products that are live. @param self who is signed in, so that nobody types again what is known */
export function readJoinPage(app: App, code: string | undefined, by?: string, self: Affiliate | null = null) {
  const { name, intro, summary, contact } = theProgramme(app);
  const open = productsInUse(app).filter(isRecruiting);
  const live = open.filter((p) => detailsOf(p).listed || p.code === code?.toUpperCase());
  const group = self ? promoterOf(app, self).group : null;
  const product = code ? live.find((p) => p.code === code.toUpperCase()) : undefined;
  return {
    programme: name,
    intro: filled(app, intro),
    summary: filled(app, summary),
    logo: logoAddress(app),
    contact,
    by: by ? (bringer(app, by)?.name ?? null) : null,
    products: live.map((p) => ({ code: p.code, name: p.name, ...publicTerms(app, p) })),
    cards: openCards(app, 'join').map(({ id, name: card, about }) => ({ id, name: card, about })),
    policy: readPublicPolicy(app)?.number ?? null,
    group,
    practices: practicesAsked(app, group),
    self: self && {
      name: self.name,
      email: self.email,
      country: self.country,
      address: self.address,
      sites: self.sites,
      channels: self.audience,
    },
    product: product
      ? {
          code: product.code,
          name: product.name,
          description: product.description,
          ...publicTerms(app, product),
        }
      : null,
  };
}

/** A site as people write it: scheme and trailing slash off, host in lower case. */
export function siteKey(site: string): string {
  const bare = site
    .trim()
    .replace(/^https?:\/\//i, '')
    .replace(/\/+$/, '');
  const slash = bare.indexOf('/');
  return slash < 0 ? bare.toLowerCase() : bare.slice(0, slash).toLowerCase() + bare.slice(slash);
}

const theTrust: Actor = { kind: 'open', id: 'trust' };
const nobody: Actor = { kind: 'open', id: 'open' };

type Affiliate = typeof affiliates.$inferSelect;
type Input = Static<typeof Join>;
type Outcome = {
  outcome: 'received' | 'already-waiting' | 'already-approved' | 'added' | 'let-in';
  said: string;
};

/** What everybody is answered who is not signed in, whoever the address belongs to: the rest comes to that address. */
const received: Outcome = {
  outcome: 'received',
  said: 'Your application has arrived. The answer comes to your e-mail address.',
};

interface Asked {
  product: KeptProduct | null;
  card: SetRecord | null;
  /** what it is for, in words */
  about: string;
  /** the record that the address has already */
  known: Affiliate | undefined;
  /** the one who applies is signed in as the one with this address */
  own: boolean;
}

function productFault(app: App, code: string, product: KeptProduct | null): FieldFault[] {
  if (code === '' || (product && isRecruiting(product))) return [];
  const example = productsInUse(app).find(isRecruiting)?.code;
  return [
    {
      pointer: '/product',
      detail: `There is no product ${code} to promote; leave it empty for the whole programme`,
      ...(example ? { example } : {}),
    },
  ];
}

function policyFault(app: App, accepted: boolean | undefined): FieldFault[] {
  if (accepted === true || !readPublicPolicy(app)) return [];
  return [
    {
      pointer: '/policy',
      detail: 'Policy: it has to be accepted to take part; read it and mark that you accept it',
      example: 'accepted',
    },
  ];
}

function practicesFault(app: App, ticked: Input['practices']): FieldFault[] {
  const known = new Set<string>(practicesNow(app).table.map((p) => p.key));
  const strange = ticked?.filter((key) => !known.has(key)) ?? [];
  return strange.length
    ? [
        {
          pointer: '/practices',
          detail: `Practices: ${strange.join(', ').slice(0, 80)} is not in the terms any more; load the page anew and tick again`,
          example: [...known][0] ?? 'none',
        },
      ]
    : [];
}

/** @param recorded whoever has a record here, and is known to be that one, need not say more */
function noteFault(note: string, product: KeptProduct | null, recorded: boolean): FieldFault[] {
  const letsAnybodyIn = product !== null && detailsOf(product).recruiting === 'open';
  if (note.trim() !== '' || recorded || letsAnybodyIn) return [];
  return [
    {
      pointer: '/note',
      detail: 'Note is empty: tell us what you would do, for whom and when',
      example: 'A letter every Friday to people who throw pots at home; I would begin with wheel basics',
    },
  ];
}

/** Checks what was sent. What is said of it tells nothing about the address. @throws Problem `invalid` */
function read(app: App, input: Input, self: Affiliate | null): Asked {
  const product = input.product === '' ? null : (productByCode(app, input.product) ?? null);
  const card = input.card ? (openCards(app, 'join').find((c) => c.id === input.card) ?? null) : null;
  const own = self !== null && self.emailKey === emailKey(input.email);
  const faults = productFault(app, input.product, product);
  if (input.card && !card)
    faults.push({
      pointer: '/card',
      detail: 'Rate card: this one is not open for choice any more; leave it empty',
    });
  faults.push(
    ...policyFault(app, input.policy),
    ...practicesFault(app, input.practices),
    ...noteFault(input.note, product, own && self.joinedAt !== null),
  );
  if (faults.length) throw invalid(faults);
  const known = app.db
    .select()
    .from(affiliates)
    .where(eq(affiliates.emailKey, emailKey(input.email)))
    .get();
  return { product, card, about: product ? product.name : 'the whole programme', known, own };
}

/** Messages a day that strangers can cause to one address. */
const mostMessages = 3;
const causedByStrangers = ['application-received', 'application-known'];

/** Writes to the address of an application, in our words alone, and so often only. */
function writeBack(
  app: App,
  {
    to,
    affiliate,
    kind,
    text,
  }: {
    to: string;
    affiliate: Id<'affiliate'>;
    kind: 'application-received' | 'application-known';
    text: string;
  },
): void {
  if (writtenLately(app, to, causedByStrangers) >= mostMessages) return;
  const { name, contact } = theProgramme(app);
  queue(app, {
    to,
    affiliate,
    kind,
    subject: `Your application to ${name}`,
    body: `Hello,\n\n${text} If you did not apply, there is nothing to do.\n\nQuestions: ${contact}\n\n${name}`,
  });
}

/** What a record has of the same already: an application that is open, or an approval. */
function standing(app: App, { known, product }: Asked): 'already-waiting' | 'already-approved' | null {
  if (!known || known.state === 'blocked') return null;
  const same = product ? eq(applications.product, product.id) : isNull(applications.product);
  if (
    app.db
      .select({ id: applications.id })
      .from(applications)
      .where(and(eq(applications.affiliate, known.id), inArray(applications.state, [...openStates]), same))
      .get()
  )
    return 'already-waiting';
  return openApprovals(app, known.id).some((a) => a.product === null || a.product === product?.id)
    ? 'already-approved'
    : null;
}

function newRecord(app: App, input: Input, card: SetRecord | null): Id<'affiliate'> {
  const id = newId('affiliate');
  const sites = [...new Map(input.sites.map((s) => [siteKey(s), siteKey(s)])).values()];
  addAffiliate(app, {
    id,
    handle: handleFor(app, input.name),
    name: input.name.trim(),
    email: input.email.trim(),
    emailKey: emailKey(input.email),
    country: input.country,
    address: input.address.trim(),
    addressKey: addressKey(input.address),
    sites,
    audience: input.channels.trim(),
    kind: kindsIn(input.channels)[0] ?? '',
    createdAt: app.clock.now(),
    broughtBy: input.by ? (bringer(app, input.by)?.id ?? null) : null,
  });
  if (card) {
    putInto(app, nobody, id, { set: card });
    touch(app, 'terms');
  }
  return id;
}

/** Lets in at once whom trust, the registry or the product lets in. @returns true if it did */
function letIn(app: App, id: Id<'application'>, { product, known }: Asked): boolean {
  // whoever was blocked or has left is looked at by a person, also where the product is open to all
  if (known && known.state !== 'applied' && known.state !== 'active') return false;
  const openToAll = product !== null && detailsOf(product).recruiting === 'open';
  const trust = known?.state === 'active' ? stillTrusted(app, known.id) : null;
  const approve = (actor: Actor, atSale: boolean) =>
    decide(app, actor, {
      ids: [id],
      decision: 'approve',
      timing: atSale ? 'at-sale' : 'after-hold',
      reason: '',
      message: true,
    }).decided.length > 0;
  if (trust) return approve(theTrust, trust.atSale);
  if (!openToAll && letInVouched(app, id)) return true;
  return openToAll && approve(theClock, false);
}

/** What somebody who is signed in is told. */
function toldSelf(app: App, outcome: Outcome['outcome'], about: string): Outcome {
  const said = {
    'already-waiting': `Your application for ${about} has arrived already and is being read. There is no need to send it again.`,
    'already-approved': `You are approved for ${about} already. The portal has your links.`,
    'let-in': `You are in: your link to ${about} waits in the portal.`,
    added:
      'Your application has arrived and is added to your record. The answer comes to your e-mail address.',
    received: received.said,
  }[outcome];
  return { outcome, said };
}

/** Tells an address that somebody applied with it again: what is known of it is said to nobody else. */
function tellKnown(app: App, { known, about }: Asked, already: ReturnType<typeof standing>): void {
  writeBack(app, {
    to: known!.email,
    affiliate: known!.id,
    kind: 'application-known',
    text:
      already === 'already-waiting'
        ? `somebody applied for ${about} with this address. Your application has arrived already and is being read; there is no need to send it again.`
        : `somebody applied for ${about} with this address. You are approved for it already: sign in at ${app.address}/portal for your links.`,
  });
}

/** Writes the application. @returns its id and whose it is */
function addApplication(
  app: App,
  input: Input,
  { product, card, known, own }: Asked,
): { id: Id<'application'>; affiliate: Id<'affiliate'> } {
  const affiliate = known?.id ?? newRecord(app, input, card);
  const id = newId('application');
  app.db
    .insert(applications)
    .values({
      id,
      affiliate,
      product: product?.id ?? null,
      note: input.note.trim(),
      channels: input.channels.trim(),
      policy: readPublicPolicy(app)?.number ?? null,
      createdAt: app.clock.now(),
    })
    .run();
  indexNote(app, id, input.note);
  keepMeant(app, { id, note: input.note, channels: input.channels }, input.practices ?? null);
  record(app, own ? { kind: 'affiliate', id: affiliate } : nobody, 'application-received', {
    subject: id,
    before: null,
    after: { affiliate, product: product?.code ?? null },
  });
  return { id, affiliate };
}

/** Whoever is with us already has to be signed in: a stranger can apply in anybody's name, and decides nothing by it. */
const decidesByItself = ({ known, own }: Asked) => !known || known.state === 'applied' || own;

/**
 * Takes an application. The same person is recognised by the e-mail address and gets one application per product. To somebody who is not signed in the
 * answer is always the same: what is known of the address is said to the address.
 * @param self the affiliate who is signed in
 */
export function join(app: App, input: Input, self: Affiliate | null = null): Outcome {
  const asked = read(app, input, self);
  const { about, own } = asked;
  const already = standing(app, asked);
  if (already && own) return toldSelf(app, already, about);
  if (already) {
    tellKnown(app, asked, already);
    return received;
  }
  const { id, affiliate } = addApplication(app, input, asked);
  // a tick in a form that anybody can send is not the person's: it counts once the person is signed in, or has come by the link of a message
  if (own) noteAcceptance(app, affiliate);
  const answered = (outcome: 'let-in' | 'added') => (own ? toldSelf(app, outcome, about) : received);
  if (decidesByItself(asked)) {
    if (letIn(app, id, asked)) return answered('let-in');
    // what a rule decided is answered by its own message, as a decision of a person is
    if (isScreened(app, asked.product) && screen(app, id)) return answered('added');
  }
  writeBack(app, {
    to: asked.known?.email ?? input.email.trim(),
    affiliate,
    kind: 'application-received',
    text: `your application for ${about} has arrived. A person reads it; you hear from us at this address.`,
  });
  return answered('added');
}
