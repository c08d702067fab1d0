import { type App } from '../../ground/context';
import { theProgramme } from './record';

/** What buyers read: whose shop it is, and whom to ask. A product's own support contacts come before the programme's. */
export function buyerContacts(
  app: App,
  own: { supportAddress: string; supportPage: string } = { supportAddress: '', supportPage: '' },
) {
  const p = theProgramme(app);
  return {
    brand: p.brand || p.name,
    address: own.supportAddress || p.supportAddress || p.contact,
    page: own.supportPage || p.supportPage,
    phone: p.supportPhone,
  };
}

/** The contacts in one line. */
export function contactsInWords({
  address,
  page,
  phone,
}: Pick<ReturnType<typeof buyerContacts>, 'address' | 'page' | 'phone'>): string {
  return [address, page, phone].filter(Boolean).join(' · ');
}
