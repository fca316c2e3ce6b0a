import SCIMMY from 'scimmy';
import { ScimRefusal } from './scim-errors.js';

export type ScimKind = 'User' | 'Group';

/** Path of the SCIM service, below the address of the workbench. */
export const SCIM_BASE = '/api/scim/v2';
/** Items of one page at most, and where nothing is said. */
export const MOST_ITEMS = 200;

const { User, Group, EnterpriseUser } = SCIMMY.Schemas;
SCIMMY.Resources.declare(SCIMMY.Resources.User).extend(EnterpriseUser);
SCIMMY.Resources.declare(SCIMMY.Resources.Group);
SCIMMY.Config.set({
  ...{ patch: true, filter: MOST_ITEMS, sort: false, changePassword: false, etag: false, bulk: false },
  authenticationSchemes: [
    {
      type: 'oauthbearertoken',
      name: 'Key of a service account',
      description: 'A key of a service account, as a bearer token (RFC 6750).',
    },
  ],
});

/** A resource as a client sends it, held to its schema: what the schema does not know is left out. */
export function readResource(kind: ScimKind, body: unknown): Record<string, unknown> {
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    throw new ScimRefusal(400, 'invalidSyntax', 'The body must be one JSON object.');
  try {
    const read = kind === 'User' ? new User(withTruth(body), 'in') : new Group(body, 'in');
    const {
      id: _id,
      meta: _meta,
      schemas: _schemas,
      password: _password,
      groups: _groups,
      ...attributes
    } = JSON.parse(JSON.stringify(read)) as Record<string, unknown>;
    return attributes;
  } catch (error) {
    // Its own kind of error, or a plain one: either says which attribute is wrong.
    const said = error instanceof Error ? error.message : '';
    throw new ScimRefusal(400, 'invalidValue', said.slice(0, 300) || 'It does not fit its schema.');
  }
}

/** Some clients write truth as a text. */
function withTruth(body: object): object {
  const { active } = body as { active?: unknown };
  return typeof active === 'string' && /^(?:true|false)$/iu.test(active)
    ? { ...body, active: active.toLowerCase() === 'true' }
    : body;
}

/** A resource as it is answered. */
export function writeResource(
  kind: ScimKind,
  attributes: Readonly<Record<string, unknown>>,
  { id, version, createdAt, changedAt }: { id: string; version: number; createdAt: Date; changedAt: Date },
  address: string,
): Record<string, unknown> {
  const schemas =
    kind === 'User' ? [User.id, ...(EnterpriseUser.id in attributes ? [EnterpriseUser.id] : [])] : [Group.id];
  return {
    schemas,
    id,
    ...attributes,
    meta: {
      resourceType: kind,
      created: createdAt.toISOString(),
      lastModified: changedAt.toISOString(),
      location: `${address}${SCIM_BASE}/${kind}s/${id}`,
      version: `W/"${version}"`,
    },
  };
}

const plain = (value: unknown): Record<string, unknown> =>
  JSON.parse(JSON.stringify(value)) as Record<string, unknown>;

/** What the service can do (RFC 7644, 4). */
export const serviceConfig = (address: string): Record<string, unknown> =>
  plain(new SCIMMY.Schemas.ServiceProviderConfig(SCIMMY.Config.get(), `${address}${SCIM_BASE}`));

export const resourceTypes = (address: string): Record<string, unknown>[] =>
  [SCIMMY.Resources.User, SCIMMY.Resources.Group].map((type) =>
    plain(new SCIMMY.Schemas.ResourceType(type.describe(), `${address}${SCIM_BASE}`)),
  );

export const schemas = (address: string): Record<string, unknown>[] =>
  [User, EnterpriseUser, Group].map((schema) => plain(schema.definition.describe(`${address}${SCIM_BASE}`)));
