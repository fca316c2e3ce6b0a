import { AUDIENCES, DOINGS, MAX_STEPS, OUTLETS, WORKSPACE_KINDS } from '@lantern/core/automations';
import { MAX_NAME_LENGTH } from './limits.js';
import { schemaWith } from './policy-schema.js';
import { among, count, type JsonSchema, list, orNull, shape, text, withDefault } from './schema-parts.js';

/** Services of one register at most. */
export const MAX_SERVICES = 2_000;
/** Lines of one address list at most; an organisation that needs more names whole domains. */
export const MAX_ADDRESS_LINES = 500;

const boolean = (description: string, value = false): JsonSchema => ({
  type: 'boolean',
  default: value,
  description,
});
const kinds = (branches: readonly JsonSchema[]): JsonSchema => ({
  type: 'object',
  required: ['kind'],
  discriminator: { propertyName: 'kind' },
  oneOf: branches,
});
const ID = text('Stays the same when the rest changes.', 120);
const SERVICE_ID = text('A service of the register, by id.', 120);
const NAME = text('Name.', MAX_NAME_LENGTH);

const OPERATION = shape(
  {
    id: ID,
    name: withDefault(text('What people call it; empty for its id.', MAX_NAME_LENGTH), ''),
    does: {
      ...list(among(DOINGS, 'What it does with data.'), 'All that it does.', DOINGS.length),
      minItems: 1,
    },
    takesAddress: boolean('Whoever builds a flow writes the address it calls.'),
    place: text('Method and path in its OpenAPI document, as "GET /berths".', 500),
  },
  ['id', 'does'],
  'One thing that the service can be asked to do.',
);

const SERVICE = {
  name: NAME,
  owner: withDefault(text('Address of whoever answers for it.', 254), ''),
  operations: list(OPERATION, 'What it can be asked to do.', 2_000),
  ungoverned: orNull(text('Why no set can hold it to anything.', 500)),
};

const WORKSPACE = {
  name: NAME,
  kind: among(WORKSPACE_KINDS, 'What runs there.'),
  department: withDefault(text('Whose it is; empty for all.', MAX_NAME_LENGTH), ''),
};

const ADDRESS_LINE = shape(
  {
    host: text('A host: a name or an IP address.', 255),
    under: boolean('With every host under it.'),
    scheme: text('Scheme, as https; left out for any.', 20),
    port: count('Port; left out for any.'),
    path: text('Path and all under it; left out for any.', 1_000),
    allow: { type: 'boolean', description: 'Allowed, or refused.' },
  },
  ['host', 'allow'],
  'A line: the first that fits an address decides.',
);

const SET = {
  name: NAME,
  workspaces: {
    ...shape(
      {
        with: list(ID, 'Workspaces it is about; empty for all.', 500),
        without: list(ID, 'Workspaces it leaves out.', 500),
      },
      [],
      'Where it holds.',
    ),
    default: {},
  },
  circles: list(
    shape(
      { id: ID, name: NAME, services: list(SERVICE_ID, 'Services that may meet.', MAX_SERVICES) },
      ['id', 'name'],
      'Services among which everything may meet.',
    ),
    'Circles.',
    100,
  ),
  arrows: list(
    shape({ from: ID, to: ID }, ['from', 'to'], 'Data may go from one circle to another.'),
    'Arrows between circles.',
    2_000,
  ),
  off: list(SERVICE_ID, 'Services that nothing may use.', MAX_SERVICES),
  operations: list(
    shape(
      { service: SERVICE_ID, operation: ID, allowed: { type: 'boolean', description: 'Allowed, or not.' } },
      ['service', 'operation', 'allowed'],
      'One operation, whatever else is said.',
    ),
    'Single operations.',
    5_000,
  ),
  laterServices: {
    ...kinds([
      shape({ kind: { const: 'refused' } }, ['kind'], 'Nothing may use it.'),
      shape({ kind: { const: 'joins' }, circle: ID }, ['kind', 'circle'], 'It belongs to a circle.'),
    ]),
    default: { kind: 'refused' },
  },
  knownOperations: {
    type: 'object',
    additionalProperties: list(ID, 'Operations.', 2_000),
    default: {},
    description: 'Operations that were there when the set was saved, by service: others are new.',
  },
  laterOperations: withDefault(
    among(['allowed', 'refused'], 'What holds for an operation that is new.'),
    'refused',
  ),
  addresses: list(
    shape(
      {
        service: text('A service by id, or "sites" for what assistants read.', 120),
        lines: list(ADDRESS_LINE, 'In their order.', MAX_ADDRESS_LINES),
        otherwise: among(['allowed', 'refused'], 'What happens to what no line names.'),
      },
      ['service', 'otherwise'],
      'Which addresses a service may call.',
    ),
    'Address lists, one a service.',
    500,
  ),
  assistants: list(
    shape(
      {
        fromLabel: orNull(text('Holds from this label on, by id; null for every assistant.', 120)),
        audience: among(AUDIENCES, 'The widest audience.'),
        outlets: list(among(OUTLETS, 'An outlet.'), 'Where it may be published.', OUTLETS.length),
      },
      ['audience'],
      'What assistants may not be.',
    ),
    'Rules for assistants.',
    50,
  ),
  since: orNull(count('Binds what was made since: milliseconds since 1970, UTC.')),
};

const STEP = {
  id: ID,
  name: withDefault(text('What people call it.', MAX_NAME_LENGTH), ''),
  service: SERVICE_ID,
  operation: text(
    'An operation of the service: its id, "GET /berths", or a pointer into its OpenAPI document.',
    500,
  ),
  address: text('Where it calls.', 8_192),
  target: text('What it is about, as the service names it: a room, a report, a mail address, a file.', 500),
};
const SHARED = {
  id: ID,
  name: NAME,
  owner: text('Address of whoever answers for it.', 254),
  workspace: text('A workspace, by id.', 120),
  madeAt: count('When it was made or changed last: milliseconds since 1970, UTC.'),
};
const REQUIRED = ['kind', 'id', 'name', 'owner', 'workspace'];

const AUTOMATION: JsonSchema = kinds([
  shape(
    {
      kind: { const: 'flow' },
      ...SHARED,
      steps: {
        minItems: 1,
        ...list(
          shape(
            { ...STEP, after: list(ID, 'Steps before it whose data it gets.', MAX_STEPS) },
            ['id', 'service', 'operation'],
            'One step.',
          ),
          'Steps.',
          MAX_STEPS,
        ),
      },
    },
    [...REQUIRED, 'steps'],
    'Steps that move data from service to service.',
  ),
  shape(
    {
      kind: { const: 'assistant' },
      ...SHARED,
      sources: list(
        kinds([
          shape({ kind: { const: 'service' }, service: SERVICE_ID }, ['kind', 'service'], 'A service.'),
          shape(
            { kind: { const: 'place' }, name: NAME, label: orNull(text('Its label, by id.', 120)) },
            ['kind', 'name'],
            'A place.',
          ),
          shape(
            { kind: { const: 'file' }, name: NAME, label: orNull(text('Its label, by id.', 120)) },
            ['kind', 'name'],
            'A file.',
          ),
          shape(
            { kind: { const: 'site' }, address: text('Address.', 8_192) },
            ['kind', 'address'],
            'A site.',
          ),
        ]),
        'What it reads.',
        500,
      ),
      steps: list(shape(STEP, ['id', 'service', 'operation'], 'What it may do.'), 'What it may do.', 500),
      audience: among(AUDIENCES, 'Who may use it.'),
      people: list(text('Address.', 254), 'Who may use it where people are named, beside its owner.', 1_000),
      published: list(among(OUTLETS, 'An outlet.'), 'Where it is published.', OUTLETS.length),
    },
    [...REQUIRED, 'audience'],
    'A flow that answers people.',
  ),
]);

const schema = (name: string, body: JsonSchema): JsonSchema => schemaWith(name, body, {});

export const SERVICE_SCHEMA = schema('service', shape(SERVICE, ['name'], 'A service that flows can use.'));
export const WORKSPACE_SCHEMA = schema('workspace', shape(WORKSPACE, ['name', 'kind'], 'Where flows run.'));
export const CROSSING_SET_SCHEMA = schema('crossing-set', shape(SET, ['name'], 'What may cross.'));
/** One flow or assistant, as a document: what other systems hand in. */
export const AUTOMATION_SCHEMA = schema('automation', AUTOMATION);

/** Name and version of the format of a register with its sets in one file. */
export const CROSSINGS_FORMAT = 'uncut-lantern crossings 1';

export const CROSSINGS_SCHEMA = schema(
  'crossings',
  shape(
    {
      format: { const: CROSSINGS_FORMAT, description: 'Name and version of the format.' },
      services: list(shape({ id: ID, ...SERVICE }, ['id', 'name'], 'A service.'), 'Services.', MAX_SERVICES),
      workspaces: list(
        shape({ id: ID, ...WORKSPACE }, ['id', 'name', 'kind'], 'A workspace.'),
        'Workspaces.',
        500,
      ),
      sets: list(shape({ id: ID, ...SET }, ['id', 'name'], 'A set.'), 'Sets; they add up.', 100),
    },
    ['format'],
    'Services, workspaces, and what may cross between services.',
  ),
);
