import { Kind, type TSchema } from '@sinclair/typebox';
import { endpoints, schemas } from '../../../contract';
import type { AnyEndpoint } from '../../../contract/endpoint';
import { idOf, ProblemOut } from '../../../contract/shared';
import { signedCalls } from '../../../contract/track/signed-calls';
import { roles } from '../../../core/access/lists';
import { prefixes, type IdKind } from '../../../core/text/id';
import { isWorthAName, SharedSchemas } from './openapi-schemas';
import { problemStatus } from './problem';

const reply = (name: string) => ({ $ref: `#/components/responses/${name}` });

/** The refusals that calls document, by status. */
const refusals: Record<number, { name: string; description: string }> = {
  400: { name: 'Malformed', description: 'The request cannot be read' },
  401: { name: 'NotSignedIn', description: 'Not signed in, or the signature is not accepted' },
  404: { name: 'NotFound', description: 'What is named does not exist' },
  409: {
    name: 'Conflict',
    description: 'Not possible now, changed meanwhile, or contradicts an earlier report',
  },
  413: { name: 'TooLarge', description: 'The request is too large' },
  415: { name: 'UnknownCharset', description: 'The body is in another character set than UTF-8' },
  422: {
    name: 'Invalid',
    description: 'Values are not accepted: each is named with the reason and an example',
  },
  429: { name: 'TooMany', description: 'Too many requests; Retry-After says when to try again' },
  503: { name: 'Unavailable', description: 'Not available now; Retry-After says when to try again' },
};

const responses = (statuses: readonly number[]) =>
  Object.fromEntries(statuses.map((status) => [status, reply(refusals[status]!.name)]));

/** What a call of the desk or the portal can be refused with. The session schemes document 401 and 403. */
function refusalsOf({ params, query, method, once }: AnyEndpoint): object {
  const takes = method === 'POST' || method === 'PUT';
  const isNamed = Object.keys(params.properties).length > 0;
  const statuses = [
    ...(isNamed ? [404] : []),
    ...(takes || once ? [409] : []),
    ...(takes || isNamed || Object.keys(query.properties).length > 0 ? [422] : []),
  ];
  return statuses.length ? responses(statuses) : { '4XX': reply('Problem') };
}

interface Parameter {
  name: string;
  in: 'path' | 'query' | 'header';
  required?: true;
  schema: object;
  description?: string;
}

const parameter = (name: string) => ({ $ref: `#/components/parameters/${name}` });

const header = (name: string, description: string, schema: object = { type: 'string' }): Parameter => ({
  ...{ name, in: 'header', required: true, schema, description },
});

const idempotencyKey = header(
  'Idempotency-Key',
  'the same key and body again gets the same answer and does nothing',
  { type: 'string', minLength: 8, maxLength: 100 },
);

/** Parameters that have a name of their own. Of a signature the key is the security scheme. */
const named: Record<string, Parameter> = {
  once: idempotencyKey,
  webhookId: header('webhook-id', 'names the message: the same again is answered as before'),
  webhookTimestamp: header('webhook-timestamp', 'seconds since 1970, within five minutes of now'),
  webhookSignature: header(
    'webhook-signature',
    'v1, and the base64 of HMAC-SHA-256 with the key’s secret over id, timestamp and body, joined by full stops',
  ),
};

const securitySchemes = {
  session: {
    ...{ type: 'apiKey', in: 'cookie', name: 'gravenel_desk' },
    description:
      'of staff, in one of the roles that a call names, or in any: POST /api/v1/session sets it; 401 without it, 403 in another role',
  },
  portalSession: {
    ...{ type: 'apiKey', in: 'cookie', name: 'gravenel_portal' },
    description: 'of an affiliate: POST /api/v1/portal/session sets it; 401 without it',
  },
  signed: {
    ...{ type: 'apiKey', in: 'header', name: 'x-gravenel-key' },
    description:
      'the id of a key; webhook-id, webhook-timestamp and webhook-signature prove that its holder wrote the message',
  },
};

const securityOf = ({ access }: AnyEndpoint): object[] => {
  if (access === 'open') return [];
  if (access === 'affiliate') return [{ portalSession: [] }];
  return [{ session: access.length === roles.length ? [] : [...access] }];
};

/** The first part of an address that says what it is about: "/api/v1/products/:id" is of "products". */
const tagOf = (path: string): string =>
  path
    .split('/')
    .slice(2)
    .find((part) => !/^(v1|open|portal)$/.test(part)) ?? 'other';

/** Writes the paths of a document, each schema by its component. */
class Paths {
  readonly #shared: SharedSchemas;
  readonly paths: Record<string, Record<string, object>> = {};
  /** every parameter, as it stands in its call */
  readonly #placed: Parameter[] = [];

  constructor(shared: SharedSchemas) {
    this.#shared = shared;
  }

  #json(schema: TSchema, as: { hint: string; answered: boolean; named?: boolean }) {
    return { content: { 'application/json': { schema: this.#shared.whole(schema, as) } } };
  }

  #parameters(where: 'path' | 'query', schema: AnyEndpoint['params'], name: string): object[] {
    return Object.entries(schema.properties).map(([field, value]) => {
      const isNeeded = where === 'path' || (schema.required ?? []).includes(field);
      const placed: Parameter = {
        ...{ name: field, in: where },
        ...(isNeeded ? { required: true } : {}),
        schema: this.#shared.place(value, `${name}${field}`),
      };
      this.#placed.push(placed);
      return placed;
    });
  }

  /** Puts what several calls ask for in one place. @returns the parameters that stand there, by name */
  shareParameters(): Record<string, Parameter> {
    const shared: Record<string, Parameter> = { ...named };
    const places = new Map<string, Parameter[]>();
    for (const placed of this.#placed) {
      const text = JSON.stringify(placed);
      places.set(text, [...(places.get(text) ?? []), placed]);
    }
    for (const [text, same] of places) {
      if (!isWorthAName(text.length, same.length)) continue;
      const first = same[0]!;
      let name = first.name;
      for (let n = 2; name in shared; n += 1) name = `${first.name}${n}`;
      shared[name] = { ...first };
      for (const place of same) {
        for (const key of Object.keys(place)) delete place[key as keyof Parameter];
        Object.assign(place, parameter(name));
      }
    }
    return shared;
  }

  #body(end: AnyEndpoint, name: string): object {
    if (end.method !== 'POST' && end.method !== 'PUT') return {};
    if (end.upload)
      return {
        requestBody: {
          required: true,
          content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
        },
      };
    // a call that takes nothing needs no body
    if (end.body[Kind] === 'Null') return {};
    return {
      requestBody: { required: true, ...this.#json(end.body, { hint: `${name}Body`, answered: false }) },
    };
  }

  #done({ media, reply: answer }: AnyEndpoint, hint: string): object {
    if (media) return { description: 'Done', content: { [media]: { schema: { type: 'string' } } } };
    // an answer of null says no more than that it is done
    if (answer[Kind] === 'Null') return reply('Done');
    return { description: 'Done', ...this.#json(answer, { hint, answered: true }) };
  }

  /** One of our own calls. */
  add(name: string, end: AnyEndpoint): void {
    const path = end.path.replace(/:([a-z]+)/gi, '{$1}');
    const title = name.charAt(0).toUpperCase() + name.slice(1);
    const done = this.#done(end, `${title}Reply`);
    (this.paths[path] ??= {})[end.method.toLowerCase()] = {
      operationId: name,
      summary: end.summary,
      tags: [tagOf(end.path)],
      security: securityOf(end),
      parameters: [
        ...this.#parameters('path', end.params, title),
        ...this.#parameters('query', end.query, title),
        ...(end.once ? [parameter('once')] : []),
      ],
      ...this.#body(end, title),
      responses: {
        200: done,
        ...refusalsOf(end),
      },
    };
  }

  /** A call of the tracking contract, signed by a shop. */
  report(
    name: string,
    { path, summary, body, answer }: (typeof signedCalls)[keyof typeof signedCalls],
  ): void {
    const title = name.charAt(0).toUpperCase() + name.slice(1);
    const answered = this.#json(answer, { hint: `${title}Answer`, answered: true, named: true });
    this.paths[path] = {
      post: {
        operationId: `report${title}`,
        summary,
        tags: ['tracking contract'],
        security: [{ signed: [] }],
        parameters: ['webhookId', 'webhookTimestamp', 'webhookSignature'].map(parameter),
        requestBody: {
          required: true,
          ...this.#json(body, { hint: `${title}Report`, answered: false, named: true }),
        },
        responses: {
          200: {
            description: 'Done before: the answer of then',
            ...answered,
          },
          201: { description: 'Done', ...answered },
          ...responses([400, 401, 409, 413, 415, 422, 429, 503]),
          default: reply('Problem'),
        },
      },
    };
  }
}

function countAll(shared: SharedSchemas): void {
  shared.count(ProblemOut, true);
  for (const { body, answer } of Object.values(signedCalls)) {
    shared.count(body);
    shared.count(answer, true);
  }
  for (const [, { params, query, body, reply: answer }] of endpoints) {
    const inputs = [...Object.values(params.properties), ...Object.values(query.properties)];
    for (const schema of [...inputs, body]) shared.count(schema);
    shared.count(answer, true);
  }
}

/** Ids are named by what they are of: "ProductId". */
const ids = (Object.keys(prefixes) as IdKind[]).map((kind) => [`${kind}Id`, idOf(kind)] as const);

let made: { address: string; document: object } | null = null;

/** The OpenAPI 3.1 document, made from the contract: each schema once, with what each call takes, answers and is refused with. */
export function openApi(address: string): object {
  if (made?.address === address) return made.document;
  const shared = new SharedSchemas([...schemas, ...ids]);
  countAll(shared);
  const problem = shared.whole(ProblemOut, { hint: 'Problem', answered: true, named: true });
  const refused = (description: string) => ({
    description,
    content: { 'application/problem+json': { schema: problem } },
  });
  const paths = new Paths(shared);
  for (const [name, call] of Object.entries(signedCalls)) paths.report(name, call);
  for (const [name, end] of endpoints) paths.add(name, end);
  const document = {
    openapi: '3.1.0',
    info: {
      title: 'Gravenel',
      version: '1',
      description:
        'The desk from which a merchant runs an affiliate programme. The calls under “tracking contract” are those that a shop speaks; docs/connecting-a-shop.md explains them. A field that a call does not know is refused.',
    },
    servers: [{ url: address }],
    paths: paths.paths,
    components: {
      securitySchemes,
      parameters: paths.shareParameters(),
      responses: {
        Done: { description: 'Done', content: { 'application/json': { schema: { type: 'null' } } } },
        Problem: refused(`A problem, RFC 9457; its code is one of ${Object.keys(problemStatus).join(', ')}`),
        ...Object.fromEntries(
          Object.values(refusals).map(({ name, description }) => [name, refused(description)]),
        ),
      },
      schemas: shared.components,
    },
  };
  made = { address, document };
  return document;
}
