import type {
  AnyAutomation,
  Assistant,
  CrossingSet,
  Doing,
  Flow,
  FlowService,
  Operation,
  Workspace,
} from '@lantern/core/automations';
import { STARTER_LABELS } from './labels.js';

const operation = (id: string, name: string, does: readonly Doing[], takesAddress = false): Operation => ({
  ...{ id, name, does, takesAddress },
});
const READ = operation('read', 'Read records', ['reads']);
const WRITE = operation('write', 'Write records', ['writes']);

const service = (
  id: string,
  name: string,
  operations: readonly Operation[],
  over: Partial<FlowService> = {},
): FlowService => ({ ...{ id, name, owner: '', ungoverned: null }, operations, ...over });

/** Services that flows of the ferry line use. */
const SERVICES: readonly FlowService[] = [
  service('ledger', 'Booking ledger', [READ, WRITE, operation('export', 'Export a report', ['reads'])], {
    owner: 'bea.lindqvist@merrowstrait.example',
  }),
  service('crew', 'Crew roster', [READ, WRITE], { owner: 'mina.carrow@merrowstrait.example' }),
  service('mail', 'Company mail', [READ, operation('send', 'Send a mail', ['sends'])], {
    owner: 'ada.merrick@merrowstrait.example',
  }),
  service('sheets', 'Harbour sheets', [READ, WRITE, operation('publish', 'Publish a sheet', ['publishes'])]),
  service('chat', 'Deck chat', [READ, operation('post', 'Post to a room', ['sends'])]),
  service('web', 'Web request', [operation('call', 'Call an address', ['reads', 'sends'], true)]),
  service('site', 'Public site', [operation('publish', 'Publish a page', ['publishes'])], {
    owner: 'orla.fenwick@merrowstrait.example',
  }),
  service('tides', 'Tide tables', [READ]),
  service('poster', 'Social poster', [operation('post', 'Post for everybody', ['publishes'])]),
  service('notes', 'Notes of a visitor', [READ, WRITE]),
  service('kiosk', 'Terminal kiosk', [operation('show', 'Show a page', ['publishes'])], {
    ungoverned: 'It asks nobody before it shows something.',
  }),
];

const WORKSPACES: readonly Workspace[] = [
  { id: 'trial', name: 'Trial deck', kind: 'trial', department: '' },
  { id: 'desk', name: 'Passenger desk', kind: 'team', department: 'Passenger Services' },
  { id: 'live', name: 'On passage', kind: 'live', department: '' },
];

const labelOf = (name: string): string =>
  String(STARTER_LABELS.labels.find((each) => each.name === name)?.id);
const knownOperations = Object.fromEntries(
  SERVICES.map(({ id, operations }) => [id, operations.map((each) => each.id)]),
);

const SETS: readonly CrossingSet[] = [
  {
    ...{ id: 'hull', name: 'Nothing through the hull', workspaces: { with: [], without: ['trial'] } },
    circles: [
      { id: 'aboard', name: 'Aboard', services: ['ledger', 'crew', 'mail', 'sheets', 'chat'] },
      { id: 'ashore', name: 'Ashore', services: ['site', 'poster', 'kiosk', 'web'] },
      { id: 'lookout', name: 'Lookout', services: ['tides'] },
    ],
    arrows: [
      { from: 'lookout', to: 'aboard' },
      { from: 'lookout', to: 'ashore' },
      { from: 'ashore', to: 'aboard' },
    ],
    ...{ off: [], operations: [{ service: 'sheets', operation: 'publish', allowed: false }] },
    ...{ laterServices: { kind: 'refused' }, knownOperations, laterOperations: 'refused' },
    addresses: [
      {
        service: 'web',
        lines: [
          { host: 'intern.tides.example', under: true, allow: false },
          { host: 'tides.example', under: true, scheme: 'https', allow: true },
          { host: 'merrowstrait.example', under: true, allow: true },
        ],
        otherwise: 'refused',
      },
    ],
    assistants: [
      { fromLabel: labelOf('Ship’s company'), audience: 'signed-in', outlets: ['chat'] },
      { fromLabel: labelOf('Bridge only'), audience: 'named', outlets: [] },
    ],
    since: null,
  },
  {
    ...{ id: 'trials', name: 'Trials stay ashore', workspaces: { with: ['trial'], without: [] } },
    circles: [{ id: 'open', name: 'Open', services: ['tides', 'notes', 'site', 'sheets'] }],
    ...{ arrows: [], off: ['ledger', 'crew'], operations: [] },
    ...{ laterServices: { kind: 'joins', circle: 'open' }, knownOperations, laterOperations: 'allowed' },
    ...{ addresses: [], assistants: [], since: null },
  },
];

export const CROSSINGS = { services: SERVICES, workspaces: WORKSPACES, sets: SETS };

type Step = readonly [service: string, operation: string, name: string, about?: string];

const flow = (id: string, name: string, owner: string, workspace: string, steps: readonly Step[]): Flow => ({
  ...{ kind: 'flow', id, name, owner: `${owner}@merrowstrait.example`, workspace, madeAt: 0 },
  steps: steps.map(([from, does, title, about], at) => ({
    ...{ id: `step-${at + 1}`, name: title, service: from, operation: does },
    ...(about ? (from === 'web' ? { address: about } : { target: about }) : {}),
    after: at === 0 ? [] : [`step-${at}`],
  })),
});

const assistant = (
  id: string,
  name: string,
  over: Pick<Assistant, 'sources' | 'steps' | 'audience' | 'published'>,
): Assistant => ({
  ...{
    kind: 'assistant',
    id,
    name,
    owner: 'orla.fenwick@merrowstrait.example',
    workspace: 'live',
    madeAt: 0,
  },
  ...over,
});

/** Flows and assistants that people of the ferry line built; some were there before any set. */
export const AUTOMATIONS: readonly AnyAutomation[] = [
  flow('refunds', 'Refunds to the desk', 'bea.lindqvist', 'desk', [
    ['ledger', 'read', 'Refunds of the day', 'claims'],
    ['sheets', 'write', 'Into the refund sheet', 'Refunds of the day'],
    ['chat', 'post', 'Tell the desk'],
  ]),
  flow('tides-site', 'Tides on the site', 'orla.fenwick', 'live', [
    ['tides', 'read', 'Tides of tomorrow'],
    ['site', 'publish', 'Page of the harbour'],
  ]),
  flow('guests', 'Guest list to a partner', 'jun.abara', 'live', [
    ['ledger', 'export', 'Guests of the crossing', 'season'],
    ['web', 'call', 'Send them on', 'https://guests.islandholidays.example/import'],
  ]),
  flow('weather', 'Weather for the bridge', 'tomas.reave', 'live', [
    ['web', 'call', 'Forecast', 'https://api.tides.example/v2/forecast'],
    ['mail', 'send', 'Mail to the bridge', 'tomas.reave@merrowstrait.example'],
  ]),
  flow('rosters', 'Rosters as a page', 'mina.carrow', 'desk', [
    ['crew', 'read', 'Roster of the week'],
    ['sheets', 'publish', 'Publish the sheet'],
  ]),
  flow('good-news', 'Good news', 'orla.fenwick', 'live', [
    ['ledger', 'read', 'Full crossings'],
    ['chat', 'post', 'Tell everybody aboard'],
    ['poster', 'post', 'Tell the world'],
  ]),
  flow('kiosk', 'Departures at the terminal', 'per.halloran', 'live', [
    ['tides', 'read', 'Water at the berth'],
    ['kiosk', 'show', 'Show departures'],
  ]),
  flow('notes', 'Notes into the ledger', 'bea.lindqvist', 'trial', [
    ['notes', 'read', 'Notes of the visit'],
    ['ledger', 'write', 'Book them'],
  ]),
  assistant('fares', 'Fares and times', {
    sources: [
      { kind: 'place', name: 'Timetables', label: labelOf('Open water') },
      { kind: 'site', address: 'https://www.merrowstrait.example/fares' },
    ],
    ...{ steps: [], audience: 'anybody', published: ['site', 'chat'] },
  }),
  assistant('security', 'Ask about port security', {
    sources: [{ kind: 'file', name: 'Watch plan of the port.docx', label: labelOf('Bridge only') }],
    steps: [{ id: 'step-1', name: 'Answer by mail', service: 'mail', operation: 'send' }],
    ...{ audience: 'signed-in', published: ['chat'] },
  }),
];
