import type { RegistryPartner } from '../server/ground/ports';

/** How many partners the registry lists. */
export const partnerCount = 30_000;
const firstId = 100_001;

const first = [
  'Amber',
  'Ashen',
  'Barley',
  'Bell',
  'Birch',
  'Bramble',
  'Brook',
  'Candle',
  'Cedar',
  'Chalk',
  'Cinder',
  'Clover',
  'Cobble',
  'Copper',
  'Coral',
  'Cotton',
  'Crystal',
  'Dapple',
  'Dusk',
  'Ember',
  'Fennel',
  'Fern',
  'Flint',
  'Folded',
  'Garnet',
  'Ginger',
  'Granite',
  'Hazel',
  'Heather',
  'Hidden',
  'Hollow',
  'Honey',
  'Indigo',
  'Ivory',
  'Juniper',
  'Lantern',
  'Lichen',
  'Linen',
  'Marble',
  'Meadow',
  'Mellow',
  'Mosaic',
  'Nimble',
  'Nutmeg',
  'Oaken',
  'Olive',
  'Patient',
  'Pebble',
  'Pepper',
  'Quiet',
  'Rowan',
  'Rustic',
  'Saffron',
  'Salted',
  'Silver',
  'Slate',
  'Sorrel',
  'Thistle',
  'Velvet',
  'Willow',
];
const second = [
  'Anvil',
  'Apron',
  'Atlas',
  'Attic',
  'Barn',
  'Basin',
  'Bench',
  'Bowl',
  'Brush',
  'Cabin',
  'Canvas',
  'Cellar',
  'Clay',
  'Corner',
  'Crate',
  'Cup',
  'Dish',
  'Easel',
  'Fabric',
  'Farm',
  'Forge',
  'Garden',
  'Gate',
  'Glaze',
  'Hammer',
  'Harbour',
  'Hearth',
  'Kettle',
  'Kiln',
  'Kitchen',
  'Ladder',
  'Lamp',
  'Ledger',
  'Loft',
  'Loom',
  'Market',
  'Mill',
  'Mug',
  'Needle',
  'Orchard',
  'Oven',
  'Paper',
  'Parlour',
  'Pencil',
  'Pottery',
  'Press',
  'Quarry',
  'Quilt',
  'Shed',
  'Shelf',
  'Spoon',
  'Stitch',
  'Stove',
  'Studio',
  'Table',
  'Teapot',
  'Thread',
  'Tile',
  'Wheel',
  'Workshop',
];
const forms = [
  ['Letter', 'newsletter'],
  ['Weekly', 'newsletter'],
  ['Reviews', 'reviews'],
  ['Diary', 'blog'],
  ['Notes', 'blog'],
  ['Hour', 'podcast'],
  ['Radio', 'podcast'],
  ['Films', 'video'],
  ['Channel', 'video'],
  ['Classes', 'classes'],
  ['Club', 'community'],
  ['Deals', 'coupons'],
  ['Finds', 'reviews'],
  ['Journal', 'magazine'],
  ['Shop', 'shop'],
  ['Days', 'events'],
  ['Returns', 'cash return'],
] as const;
const countries = [
  'PT',
  'ES',
  'FR',
  'DE',
  'GB',
  'IE',
  'NL',
  'BE',
  'IT',
  'AT',
  'CH',
  'SE',
  'NO',
  'DK',
  'FI',
  'PL',
  'US',
  'CA',
  'AU',
  'JP',
  'CY',
  'MT',
  'GR',
  'CZ',
];
const about = [
  'for people who make things at home',
  'with one long piece a week',
  'about tools that last',
  'for teachers and their pupils',
  'from a small workshop by the sea',
  'with tests that take a month',
  'for those who begin late in life',
  'about fairs, markets and what sells there',
  'on materials and where they come from',
  'with readers’ questions answered',
  'for families with little room',
  'on mending instead of buying',
];

/** A number from 0 (inclusive) to 1 (exclusive) that belongs to a partner and a question; always the same. */
export function drawn(partner: number, question: number): number {
  let t = (Math.imul(partner ^ 0x9e3779b9, 0x85ebca6b) + Math.imul(question + 1, 0x6d2b79f5)) | 0;
  t = Math.imul(t ^ (t >>> 15), t | 1);
  t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
  return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
}

const slug = (text: string) => text.toLowerCase().replace(/[^a-z]+/g, '-');

/** The words of a partner: every number below 61,200 has words of its own. */
function wordsOf(i: number): [string, string, (typeof forms)[number]] {
  const total = first.length * second.length * forms.length;
  const at = (i * 25_457 + 11) % total;
  return [
    first[at % first.length]!,
    second[Math.floor(at / first.length) % second.length]!,
    forms[Math.floor(at / (first.length * second.length))]!,
  ];
}

type Draw = (question: number) => number;

/** The sites of a partner; many write elsewhere under another name, which is what they are asked for by. */
function sitesOf(i: number, draw: Draw): string[] {
  const [one, two, [form]] = wordsOf(i);
  const other = wordsOf(i + partnerCount);
  return [
    `https://${slug(`${one} ${two}`)}-${slug(form)}.example`,
    ...(draw(1) < 0.7 ? [`https://${slug(other[0])}${slug(other[1])}${slug(other[2][0])}.example`] : []),
    ...(draw(2) < 0.35 ? [`http://blog.${slug(two)}-${slug(one)}-${i}.example:8080/notes/`] : []),
    ...(draw(3) < 0.04 ? [`https://töpfer-${slug(one)}-${i}.example`] : []),
  ];
}

/** What a partner has sold, what came back of it, and what the registry says for it. */
function recordOf(year: number, draw: Draw): { sales: number; refunds: number; vouched: string } {
  const sales = draw(4) < 0.25 ? 0 : Math.floor(Math.exp(draw(5) * 8) - 1);
  const refunds = Math.floor(sales * (draw(6) < 0.08 ? 0.12 + draw(7) * 0.2 : 0.01 + draw(7) * 0.07));
  const vouched = sales >= 400 && refunds / sales < 0.05 && year <= 2024 && draw(12) < 0.6;
  return {
    sales,
    refunds,
    vouched: vouched
      ? `${sales.toLocaleString('en-GB')} cleared sales for other programmes since ${year}, ${((refunds / sales) * 100).toFixed(1)} % refunded; identity seen`
      : '',
  };
}

/** The partner of a place in the list: made of its number alone, so nothing has to be kept. */
export function partnerAt(i: number): RegistryPartner {
  const [one, two, [form, kind]] = wordsOf(i);
  const draw = (question: number) => drawn(i, question);
  const name = draw(0) < 0.2 ? `The ${one} ${two} ${form}` : `${one} ${two} ${form}`;
  const year = 2015 + Math.floor(draw(8) * 12);
  const since = `${year}-${String(1 + Math.floor(draw(9) * 12)).padStart(2, '0')}-${String(1 + Math.floor(draw(10) * 28)).padStart(2, '0')}`;
  const audience = Math.floor(Math.exp(4 + draw(11) * 8) / 10) * 10;
  const { sales, refunds, vouched } = recordOf(year, draw);
  const kinds = draw(13) < 0.4 ? [kind, forms[Math.floor(draw(14) * forms.length)]![1]] : [kind];
  return {
    id: `P-${firstId + i}`,
    name,
    sites: sitesOf(i, draw),
    country: countries[Math.floor(draw(15) * countries.length)]!,
    kinds: [...new Set(kinds)],
    audience,
    sales,
    refunds,
    since,
    vouched,
    changedAt: Date.UTC(2026, 0, 1),
    intro: `${draw(16) < 0.5 ? 'A' : 'An honest'} ${kind} ${about[Math.floor(draw(17) * about.length)]!}. About ${audience.toLocaleString('en-GB')} people follow it.`,
  };
}

/** Where a partner is written to: told to those it accepts. */
export function addressOf(partner: RegistryPartner): string {
  return `post@${new URL(partner.sites[0]!).hostname}`;
}
