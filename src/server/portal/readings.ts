import type { QueryOf } from '../../contract/endpoint';
import type { listEarnings as List, sumEarnings as Sum } from '../../contract/portal/portal';
import type { Id } from '../../core/text/id';
import { listOwn, surveyOwn } from '../equip/links/own';
import { listOwnCoupons } from '../equip/links/own-coupons';
import type { App } from '../ground/context';
import { readingsOf } from '../ground/reading/readings';
import { readResources } from '../recruit/offers/service';
import { earningsPiece, listEarnings, sumEarnings } from './earnings';
import { figuresCsv, ownFigures, type FiguresAsked } from './figures';
import { readHome } from './home/home';

/** The portal, read beside the serving thread. */
export const portalReadings = readingsOf({
  portalHome: (app: App, { affiliate }: { affiliate: Id<'affiliate'> }) => readHome(app, affiliate),
  ownMaterial: (
    app: App,
    { asked, query }: { asked: Parameters<typeof listOwn>[1]; query: Parameters<typeof listOwn>[2] },
  ) => listOwn(app, asked, query),
  ownMaterialSurvey: (app: App, asked: Parameters<typeof surveyOwn>[1]) => surveyOwn(app, asked),
  ownCoupons: (app: App, asked: Parameters<typeof listOwnCoupons>[1]) => listOwnCoupons(app, asked),
  resources: (app: App, { affiliate }: { affiliate: Id<'affiliate'> }) => readResources(app, affiliate),
  earnings: (app: App, { affiliate, query }: { affiliate: Id<'affiliate'>; query: QueryOf<typeof List> }) =>
    listEarnings(app, affiliate, query),
  earningSums: (app: App, { affiliate, query }: { affiliate: Id<'affiliate'>; query: QueryOf<typeof Sum> }) =>
    sumEarnings(app, affiliate, query),
  earningsPiece: (
    app: App,
    { affiliate, query }: { affiliate: Id<'affiliate'>; query: QueryOf<typeof List> },
  ) => earningsPiece(app, affiliate, query),
  ownFigures: (app: App, { affiliate, query }: { affiliate: Id<'affiliate'>; query: FiguresAsked }) =>
    ownFigures(app, affiliate, query),
  figuresCsv: (app: App, { affiliate, query }: { affiliate: Id<'affiliate'>; query: FiguresAsked }) =>
    figuresCsv(app, affiliate, query),
});
