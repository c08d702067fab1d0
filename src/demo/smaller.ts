import type { DemoAffiliate } from './scenario';

/** The long tail of the programme: who sends a few clicks a week, a sale now and then. All of them are made up. */
const rows: [name: string, slug: string, country: string, channels: string, joined: string, weight: number, note: string][] = [
  ['Aprons and Ash', 'aprons-ash', 'GB', 'blog', '2026-03-10', 1, 'Clothes for people who get muddy for a living.'],
  ['The Bat Rack', 'batrack', 'US', 'podcast', '2026-03-16', 2, 'Shop talk for production potters.'],
  ['Beach Clay Notes', 'beachclay', 'PT', 'blog', '2026-03-23', 1, 'Clay dug by hand on the Atlantic side.'],
  ['Bone Dry', 'bonedry', 'DE', 'newsletter', '2026-04-02', 2, 'A short letter on the first of each month.'],
  ['Burnish', 'burnish', 'FR', 'magazine', '2026-04-13', 2, 'A magazine on paper with a shop page in the back.'],
  ['Centred', 'centred', 'IE', 'video', '2026-04-21', 1, 'One throwing exercise a week, without music.'],
  ['Clay Cellar', 'claycellar', 'AT', 'classes', '2026-05-06', 2, 'Evening classes for twelve in a vaulted cellar.'],
  ['Cone Ten Coffee', 'coneten', 'US', 'podcast', '2026-05-11', 1, 'A potter and a roaster talk about heat.'],
  ['Coil by Coil', 'coilbycoil', 'NL', 'blog', '2026-05-19', 1, 'Hand building for people without a wheel, and what to buy when one is wanted.'],
  ['Cracked Pot Comics', 'crackedpot', 'GB', 'comics', '2026-05-26', 1, 'Drawn mishaps of the studio.'],
  ['Dry Foot', 'dryfoot', 'DK', 'newsletter', '2026-06-03', 1, 'What sells at northern fairs and what does not.'],
  ['Eastern Kilns', 'easternkilns', 'PL', 'shop blog', '2026-06-10', 2, 'Kiln repair and second-hand kilns.'],
  ['First Firing', 'firstfiring', 'ES', 'classes', '2026-06-22', 1, 'Beginners’ weekends with everything provided.'],
  ['Fire Ledger', 'fireledger', 'SE', 'blog', '2026-06-29', 1, 'Firing costs, worked out to the kilowatt hour.'],
  ['Garden Urns', 'gardenurns', 'BE', 'shop blog', '2026-07-06', 1, 'Large pots, frost and how to ship them.'],
  ['Greenware Gazette', 'greenware', 'GB', 'newsletter', '2026-07-13', 2, 'News of studios that open and close.'],
  ['Hand Built Homes', 'handbuilt', 'IT', 'blog', '2026-07-27', 1, 'Tiles, sinks and lamps made at home.'],
  ['Island Potters', 'islandpotters', 'MT', 'community', '2026-08-03', 1, 'Forty members on a small island share one kiln.'],
  ['Kick Wheel Club', 'kickwheel', 'CH', 'community', '2026-08-10', 1, 'No motors on principle, wheels all the same.'],
  ['Lime and Loam', 'limeloam', 'FR', 'blog', '2026-08-17', 1, 'Earthen plaster and earthenware.'],
  ['Lip and Spout', 'lipspout', 'GB', 'blog', '2026-09-01', 1, 'Teapots that pour.'],
  ['Little Kiln Library', 'kilnlibrary', 'NO', 'reviews', '2026-09-07', 2, 'Kilns that run on an ordinary socket, measured.'],
  ['Moss Glaze', 'mossglaze', 'FI', 'video', '2026-09-14', 1, 'Green glazes and nothing else.'],
  ['Night Class', 'nightclass', 'US', 'classes', '2026-09-21', 2, 'Pottery after work, eight weeks a term.'],
  ['Off Centre', 'offcentre', 'IE', 'podcast', '2026-09-28', 1, 'Disability and the wheel.'],
  ['Oxide Row', 'oxiderow', 'DE', 'shop blog', '2026-10-12', 1, 'Colourants by the gram.'],
  ['Paper Clay Post', 'paperclay', 'NL', 'newsletter', '2026-10-19', 1, 'Mending with paper clay.'],
  ['Quarry Girls', 'quarrygirls', 'PT', 'video', '2026-10-26', 1, 'Three sisters, one quarry.'],
  ['Reduction', 'reduction', 'JP', 'blog', '2026-11-02', 1, 'Copper reds, one test at a time.'],
  ['School Kiln', 'schoolkiln', 'GB', 'classes', '2026-11-09', 1, 'Kilns in schools: safety sheets and buying lists.'],
  ['Slab Roller', 'slabroller', 'CA', 'reviews', '2026-11-16', 1, 'Tools tried for a month before a word is written.'],
  ['Tile Trail', 'tiletrail', 'ES', 'events', '2026-11-23', 1, 'Walks from tile to tile in old towns.'],
  ['Under Glaze', 'underglaze', 'US', 'video', '2026-11-30', 1, 'Drawing on pots.'],
  ['Wax Resist', 'waxresist', 'DK', 'newsletter', '2027-01-18', 1, 'A letter on pattern.'],
  ['Wheel and Deal', 'wheeldeal', 'CY', 'coupons', '2027-01-25', 2, 'Deals for crafts of all kinds.'],
];

/** Every fifth of them has not said yet where to pay it. */
export const smallerAffiliates: DemoAffiliate[] = rows.map(([name, slug, country, channels, joined, weight, note], i) => ({
  name, email: `post@${slug}.example`, country, site: `${slug}.example`, channels, note, joined, timing: 'after-hold', weight: weight / 2, product: '', details: i % 5 !== 4,
}));
