import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { emptyCreative, type CreativeFields } from '../../core/material/creative';
import type { CreativeKind } from '../../core/material/lists';
import type { Id } from '../../core/text/id';
import { createCoupon, sayCoupon } from '../../server/equip/coupons/service';
import { takeFile } from '../../server/equip/creatives/files';
import { planChange } from '../../server/equip/creatives/planned';
import { createCreative } from '../../server/equip/creatives/service';
import { applyPlanned } from '../../server/equip/due/due';
import { answerRequest, askForMaterial } from '../../server/equip/requests/service';
import type { Actor, App } from '../../server/ground/context';
import { affiliates } from '../../server/ground/tables/people';
import { sets } from '../../server/ground/tables/terms';
import { productByCode } from '../../server/registers/catalogue/store';
import type { At, Plan } from '../agenda';
import { demoCoupons } from './coupons';
import { bytesOf } from './drawings';
import {
  demoBanners,
  demoPieces,
  demoPlans,
  demoRequests,
  inks,
  shopPage,
  type DemoBanner,
  type DemoPiece,
} from './pieces';

/** Digests of what was drawn and filmed, by the name of the creative or the film. */
export type DemoFiles = ReadonlyMap<string, string>;

/** Draws the banners and takes them in with the films, before history is played: reading a file waits, history does not. */
export async function drawMaterial(app: App, actor: Actor, films: string): Promise<DemoFiles> {
  const files = new Map<string, string>();
  for (const banner of demoBanners) {
    const [width, height] = banner.size;
    const bytes = await bytesOf(
      { ...banner, width, height, ink: inks[banner.ink], paper: '#FBFAF6' },
      banner.kept,
    );
    files.set(banner.name, (await takeFile(app, actor, { name: banner.name, bytes })).hash);
  }
  for (const film of demoPieces.flatMap((p) => p.film ?? [])) {
    const bytes = await readFile(join(films, film));
    files.set(film, (await takeFile(app, actor, { name: film, bytes })).hash);
  }
  return files;
}

interface Offered {
  id: Id<'creative'>;
  from: number;
  until: number;
}

/** What was made so far, by product and by name. */
export class Made {
  readonly #byProduct = new Map<string, Offered[]>();
  readonly #byName = new Map<string, Id<'creative'>>();

  add(product: string, name: string, one: Offered): void {
    this.#byName.set(name, one.id);
    this.#byProduct.set(product, [...(this.#byProduct.get(product) ?? []), one]);
  }

  /** creatives of a product that affiliates are offered at a moment, in the order they were made in */
  offered(product: string, at: number): readonly Id<'creative'>[] {
    return (this.#byProduct.get(product) ?? [])
      .filter(({ from, until }) => from <= at && at < until)
      .map(({ id }) => id);
  }

  called(name: string): Id<'creative'> | undefined {
    return this.#byName.get(name);
  }
}

interface Making {
  kind: CreativeKind;
  product: string;
  fields: Partial<CreativeFields> & { name: string };
}

function make(app: App, actor: Actor, made: Made, { kind, product, fields }: Making): void {
  const row = product === '' ? undefined : productByCode(app, product);
  const { id } = createCreative(app, actor, {
    kind,
    ...emptyCreative,
    ...fields,
    products: row ? [row.id] : [],
    subjects: [...(fields.subjects ?? [])],
    landing: row ? '' : shopPage,
  });
  const { from, until } = fields;
  made.add(product, fields.name, { id, from: from ?? 0, until: until ?? Infinity });
}

function bannerFields(banner: DemoBanner, files: DemoFiles, at: At): Making['fields'] {
  const { name, alt, subject = '', language = 'en', off = false, from, until } = banner;
  return {
    ...{ name, alt, subject, language },
    file: files.get(name)!,
    active: !off,
    from: from ? at(from) : null,
    until: until ? at(until, 0) : null,
  };
}

const pieceFields = ({ fields, film, poster }: DemoPiece, files: DemoFiles): Making['fields'] => ({
  ...fields,
  file: film ? files.get(film)! : null,
  poster: poster ? files.get(poster)! : null,
});

/** Plans when each creative is made, what is changed of it later, and the nightly change of what has come due. */
export function planMaterial(
  app: App,
  plan: Plan,
  { at, manager, files }: { at: At; manager: Actor; files: DemoFiles },
): Made {
  const made = new Made();
  demoBanners.forEach((banner, i) => {
    plan(at(banner.made, 10) + i * 60_000, () =>
      make(app, manager, made, {
        kind: 'banner',
        product: banner.product,
        fields: bannerFields(banner, files, at),
      }),
    );
  });
  demoPieces.forEach((piece, i) => {
    plan(at(piece.made, 11) + i * 60_000, () =>
      make(app, manager, made, {
        kind: piece.kind,
        product: piece.product,
        fields: pieceFields(piece, files),
      }),
    );
  });
  for (const { name, made: day, at: moment, changes } of demoPlans) {
    plan(at(day, 12), () => {
      const id = made.called(name);
      if (id) planChange(app, manager, id, { at: at(moment), changes: asSent(changes) });
    });
    plan(at(moment) + 1_000, () => applyPlanned(app));
  }
  return made;
}

/** Lists that the contract takes can be written to. */
const asSent = ({ products, subjects, ...rest }: Partial<CreativeFields>) => ({
  ...rest,
  ...(products ? { products: [...products] } : {}),
  ...(subjects ? { subjects: [...subjects] } : {}),
});

const groupOf = (app: App, name: string) =>
  app.db
    .select()
    .from(sets)
    .all()
    .find((s) => s.name === name && s.of === 'group')!.id;

/** Plans when each coupon is made. */
export function planCoupons(app: App, plan: Plan, { at, manager }: { at: At; manager: Actor }): void {
  for (const { on, made, from, until, owned, group, said, ...typed } of demoCoupons)
    plan(at(made, 15), () => {
      const owner = owned
        ? app.db.select().from(affiliates).where(eq(affiliates.name, owned)).get()!.id
        : null;
      const { id } = createCoupon(app, manager, {
        ...plainCoupon,
        ...typed,
        owner,
        products: on.map((code) => productByCode(app, code)!.id),
        audience: group ? { kind: 'group', set: groupOf(app, group) } : { kind: 'everybody' },
        from: from ? at(from, 0) : null,
        until: until ? at(until, 0) : null,
      });
      if (said) sayCoupon(app, manager, id, 'said');
    });
}

const plainCoupon = {
  gives: 'percent',
  value: '10',
  words: '',
  least: '',
  landing: '',
  terms: '',
  applied: true,
  active: true,
} as const;

const affiliateOf = (app: App, email: string): Actor => ({
  kind: 'affiliate',
  id: app.db.select().from(affiliates).where(eq(affiliates.email, email)).get()!.id,
});

/** Plans what affiliates ask for, and what becomes of it. */
export function planRequests(
  app: App,
  plan: Plan,
  { at, manager, made }: { at: At; manager: Actor; made: Made },
): void {
  for (const { email, day, answered, ...asked } of demoRequests)
    plan(at(day, 14), () => {
      const who = affiliateOf(app, email);
      const { id } = askForMaterial(app, who, { subject: '', language: '', ...asked });
      if (!answered) return;
      plan(at(answered.day, 16), () => {
        const creative = made.called(answered.by) ?? null;
        answerRequest(app, manager, id, { creative, answer: answered.words, version: 1 });
      });
    });
}
