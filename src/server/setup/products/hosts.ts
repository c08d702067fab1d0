import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
import { programme } from '../../ground/tables/programme';
import { record } from '../../registers/access/audit';
import { detailsOf } from '../../registers/catalogue/details';
import { changeProgramme } from '../../registers/programme/write';
import { type Checked } from './check';

/** Every page that links may lead to. */
export function listHosts(app: App, actor: Actor, fields: Checked['fields']): void {
  const { mobilePage, fallbackPage, prelaunchPage, furtherPages } = detailsOf(fields);
  listHost(app, actor, fields.salesPage);
  for (const p of [mobilePage, fallbackPage, prelaunchPage, ...furtherPages]) listHost(app, actor, p);
}

/** A sales page that the merchant enters is a page that links may lead to: its host joins the list. */
function listHost(app: App, actor: Actor, salesPage: string): void {
  if (!salesPage) return;
  let host: string;
  try {
    host = new URL(salesPage).host;
  } catch {
    throw refuse(
      'salesPage',
      'Sales page is not a web address that begins with http:// or https://',
      'https://shop.quernstone.example/wheel',
    );
  }
  // read anew: several pages of one product may each add one
  const { landingHosts, version } = app.db
    .select({ landingHosts: programme.landingHosts, version: programme.version })
    .from(programme)
    .get()!;
  if (landingHosts.includes(host)) return;
  // a form of the settings that is open has the list without it: it is told, and drops nothing
  changeProgramme(app, { landingHosts: [...landingHosts, host], version: version + 1 });
  touch(app, 'records');
  record(app, actor, 'landing-host-added', { subject: 'programme', before: null, after: { host } });
}
