import type { Request } from 'express';
import type { BodyOf } from '../../contract/endpoint';
import type { OwnProfile, setOwnProfile } from '../../contract/portal/profile';
import { addressKey } from '../../core/recruiting/evidence';
import type { Id } from '../../core/text/id';
import { asAffiliate, type Actor, type App } from '../ground/context';
import { Problem } from '../ground/http/problem';
import { difference, record } from '../registers/access/audit';
import { sessionsOf } from '../registers/access/session';
import { affiliateById } from '../registers/people/record';
import { changeAffiliate } from '../registers/people/write';
import { ownPlaces } from '../setup/terms/cards';

/** Who an affiliate is to the merchant. @param req of its own browser; null: staff look on, whom sessions do not concern */
export function readProfile(app: App, affiliate: Id<'affiliate'>, req: Request | null): OwnProfile {
  const { name, handle, email, country, address, sites, audience, joinedAt, promotes, version } =
    affiliateById(app, affiliate);
  return {
    ...{ name, handle, email, country, address, sites, audience, joinedAt, promotes, version },
    places: ownPlaces(app, affiliate),
    sessions: req ? sessionsOf(app, affiliate, req) : [],
  };
}

/**
 * Changes what an affiliate says of itself. Its e-mail address, country and sites were looked at when it was approved: those it has changed by the
 * merchant. @throws Problem `stale`
 */
export function setProfile(
  app: App,
  actor: Actor,
  { version, ...typed }: BodyOf<typeof setOwnProfile>,
  req: Request,
): OwnProfile {
  const affiliate = asAffiliate(actor);
  return app.transaction(() => {
    const row = affiliateById(app, affiliate);
    if (row.version !== version)
      throw new Problem(
        'stale',
        'Your details were changed meanwhile, perhaps in another window. What you typed is kept in the form; compare and save again.',
        { current: readProfile(app, affiliate, req) },
      );
    const fields = {
      name: typed.name.trim(),
      address: typed.address.trim(),
      audience: typed.audience.trim(),
    };
    const changed = difference(row, fields);
    if (Object.keys(changed.after).length === 0) return readProfile(app, affiliate, req);
    changeAffiliate(app, affiliate, {
      ...fields,
      ...(row.addressKey === null ? {} : { addressKey: addressKey(fields.address) }),
    });
    record(app, actor, 'profile-changed', { subject: affiliate, ...changed });
    return readProfile(app, affiliate, req);
  });
}
