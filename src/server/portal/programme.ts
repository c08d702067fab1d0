import { type App } from '../ground/context';
import { logoAddress } from '../registers/catalogue/files';
import { theProgramme } from '../registers/programme/record';

/** The programme as the portal shows it. */
export function portalProgramme(app: App) {
  const { name, base, zone, contact } = theProgramme(app);
  return { name, base, zone, contact, logo: logoAddress(app) };
}
