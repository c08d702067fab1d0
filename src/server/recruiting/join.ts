import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { Static } from '@sinclair/typebox';
import { addressKey, emailKey } from '../../core/recruiting/evidence';
import { kindsIn } from '../../core/recruiting/kinds';
import type { Join } from '../../contract/recruiting';
import type { Actor, App } from '../context';
import { theClock, theProgramme } from '../context';
import { newId } from '../db/ids';
import { affiliates, applications, approvals } from '../db/schema';
import { refuse } from '../http/problem';
import { handleFor } from '../affiliates/names';
import { queue } from '../messages/service';
import { detailsOf } from '../products/details';
import { logoAddress } from '../products/files';
import { filled } from '../products/live';
import { publicTerms } from '../products/service';
import { productByCode, productsInUse } from '../products/store';
import { record } from '../staff/audit';
import { openCards, putInto } from '../terms/members';
import { termsChanged } from '../terms/store';
import { indexNote } from './notes';
import { noteAcceptance, readPublicPolicy } from '../policy/service';
import { prospectByMail } from '../prospects/copy';
import { openStates } from './questions';
import { isScreened, letInVouched, screen } from './screening';
import { decide } from './service';
import { stillTrusted } from './trust';

/** The affiliate whose address an applicant came by; one who is gone or blocked brings nobody in. */
function bringer(app: App, handle: string) {
  const row = app.db.select().from(affiliates).where(eq(affiliates.handle, handle.toLowerCase())).get();
  return row && row.promotes && (row.state === 'active' || row.state === 'paused') ? row : null;
}

/** What the public join page shows; only products that are live. */
export function readJoinPage(app: App, code: string | undefined, by?: string) {
  const { name, intro, summary, contact } = theProgramme(app);
  const open = productsInUse(app).filter((p) => p.state === 'live' && detailsOf(p).recruiting !== 'none');
  const live = open.filter((p) => detailsOf(p).listed || p.code === code?.toUpperCase());
  const product = code ? live.find((p) => p.code === code.toUpperCase()) : undefined;
  return {
    programme: name, intro: filled(app, intro), summary: filled(app, summary), logo: logoAddress(app), contact, by: by ? bringer(app, by)?.name ?? null : null, products: live.map((p) => ({ code: p.code, name: p.name, ...publicTerms(app, p) })),
    cards: openCards(app, 'join').map(({ id, name: card, about }) => ({ id, name: card, about })),
    policy: readPublicPolicy(app)?.number ?? null,
    product: product ? { code: product.code, name: product.name, description: product.description, ...publicTerms(app, product) } : null,
  };
}

/** A site as people write it: scheme and trailing slash off, host in lower case. */
export function siteKey(site: string): string {
  const bare = site.trim().replace(/^https?:\/\//i, '').replace(/\/+$/, '');
  const slash = bare.indexOf('/');
  return slash < 0 ? bare.toLowerCase() : bare.slice(0, slash).toLowerCase() + bare.slice(slash);
}

const theTrust: Actor = { kind: 'open', id: 'trust' };

type Outcome = { outcome: 'received' | 'already-waiting' | 'already-approved' | 'added' | 'let-in'; said: string };

/** Takes an application. The same person is recognised by the e-mail address and gets one application per product. */
export function join(app: App, input: Static<typeof Join>): Outcome {
  const product = input.product === '' ? null : productByCode(app, input.product) ?? null;
  if (input.product !== '' && (product?.state !== 'live' || detailsOf(product).recruiting === 'none')) {
    throw refuse('product', `There is no product ${input.product} to promote; leave it empty for the whole programme`, productsInUse(app).find((p) => p.state === 'live' && detailsOf(p).recruiting !== 'none')?.code);
  }
  const card = input.card ? openCards(app, 'join').find((c) => c.id === input.card) ?? null : null;
  if (input.card && !card) throw refuse('card', 'Rate card: this one is not open for choice any more; leave it empty');
  const about = product ? product.name : 'the whole programme';
  const known = app.db.select().from(affiliates).where(eq(affiliates.emailKey, emailKey(input.email))).get();
  if (readPublicPolicy(app) && input.policy !== true) throw refuse('policy', 'Policy: it has to be accepted to take part; read it and mark that you accept it', 'accepted');
  // whoever has a record here, or is known to the registry, need not say more
  if (input.note.trim() === '' && !known?.joinedAt && !(product && detailsOf(product).recruiting === 'open') && !prospectByMail(app, input.email)) throw refuse('note', 'Note is empty: tell us what you would do, for whom and when', 'A letter every Friday to people who throw pots at home; I would begin with wheel basics');
  const sites = [...new Map(input.sites.map((s) => [siteKey(s), siteKey(s)])).values()];
  const now = app.clock.now();
  let affiliate = known?.id;
  if (known && known.state !== 'blocked') {
    const same = product ? eq(applications.product, product.id) : isNull(applications.product);
    const waiting = app.db.select({ id: applications.id }).from(applications).where(and(eq(applications.affiliate, known.id), inArray(applications.state, [...openStates]), same)).get();
    if (waiting) return { outcome: 'already-waiting', said: `Your application for ${about} has arrived already and is being read. There is no need to send it again.` };
    const approved = app.db.select().from(approvals).where(and(eq(approvals.affiliate, known.id), isNull(approvals.until))).all();
    if (approved.some((a) => a.product === null || a.product === product?.id)) {
      return { outcome: 'already-approved', said: `You are approved for ${about} already. Sign in to the portal for your links.` };
    }
  }
  if (!affiliate) {
    affiliate = newId('affiliate');
    app.db.insert(affiliates).values({
      id: affiliate, handle: handleFor(app, input.name), name: input.name.trim(), email: input.email.trim(), emailKey: emailKey(input.email), country: input.country,
      address: input.address.trim(), addressKey: addressKey(input.address), sites, audience: input.channels.trim(), kind: kindsIn(input.channels)[0] ?? '', createdAt: now, broughtBy: input.by ? bringer(app, input.by)?.id ?? null : null,
    }).run();
    if (card) putInto(app, { kind: 'open', id: 'open' }, affiliate, card);
    if (card) termsChanged(app);
  }
  const id = newId('application');
  app.db.insert(applications).values({ id, affiliate, product: product?.id ?? null, note: input.note.trim(), channels: input.channels.trim(), createdAt: now }).run();
  indexNote(app, id, input.note);
  record(app, { kind: 'open', id: 'open' }, 'application-received', id, null, { affiliate, product: product?.code ?? null });
  noteAcceptance(app, affiliate);
  const trust = known?.state === 'active' ? stillTrusted(app, known.id) : null;
  if (trust) {
    const { decided } = decide(app, theTrust, { ids: [id], decision: 'approve', timing: trust.atSale ? 'at-sale' : 'after-hold', reason: '', message: true });
    if (decided.length) return { outcome: 'let-in', said: `You are in: we know each other. Sign in to the portal for your link to ${about}.` };
  }
  if ((!known || known.state === 'applied' || known.state === 'active') && (!product || detailsOf(product).recruiting !== 'open') && letInVouched(app, id)) {
    return { outcome: 'let-in', said: 'You are in: the registry vouches for you. A message with the way into the portal is on its way to your e-mail address.' };
  }
  // whoever was blocked or has left is looked at by a person, also where the product is open to all
  if (product && detailsOf(product).recruiting === 'open' && (!known || known.state === 'applied' || known.state === 'active')) {
    const { decided } = decide(app, theClock, { ids: [id], decision: 'approve', timing: 'after-hold', reason: '', message: true });
    if (decided.length) return { outcome: 'let-in', said: `You are in. ${known?.password ? 'Sign in to the portal' : 'A message with the way into the portal is on its way to your e-mail address'}; your link for ${product.name} waits there.` };
  }
  // what a rule decided is answered by its own message, as a decision of a person is
  const screened = isScreened(app, product) && screen(app, id);
  if (!screened) queue(app, {
    to: known?.email ?? input.email.trim(), affiliate, kind: 'application-received', subject: `Your application to ${theProgramme(app).name}`,
    body: `Hello ${known?.name ?? input.name.trim()},\n\nyour application for ${about} has arrived. A person reads it; you hear from us at this address.\n\n${theProgramme(app).name}`,
  });
  const said = `Your application has arrived. ${screened ? 'The' : 'A person reads it; the'} answer comes to your e-mail address.`;
  return known ? { outcome: 'added', said: `We know you already: this is added to your record. ${said}` } : { outcome: 'received', said };
}
