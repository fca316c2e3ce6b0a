import { readAddress } from './address.js';
import { isArazzo, operationNamed, readArazzo } from './arazzo.js';
import type { FlowService } from './flow.js';
import { judgeAutomation } from './judge-automation.js';
import { readOpenApi } from './openapi.js';

const service = (id: string, name: string, operations: FlowService['operations']): FlowService => ({
  ...{ id, name, owner: '', ungoverned: null, operations },
});
/** Paths of the example in the Arazzo Specification 1.0.1, section 4.4 (from memory): a pet shop. */
const PETS = readOpenApi({
  openapi: '3.1.0',
  info: { title: 'petStoreDescription', version: '1' },
  paths: {
    '/user/login': { post: { operationId: 'loginUser' } },
    '/pet/findByStatus': { get: {} },
    '/hooks': { post: { operationId: 'addHook' } },
  },
});
const SERVICES = [
  service('petStoreDescription', 'Pets', PETS?.operations ?? []),
  service('chat', 'Deck chat', [{ id: 'post', name: 'Post', does: ['sends'], takesAddress: false }]),
];
const SOURCES = [
  { name: 'petStoreDescription', url: 'https://pets.example/openapi.yaml', type: 'openapi' },
  { name: 'Deck-chat', url: './chat.yaml', type: 'openapi' },
];
const document = (steps: readonly object[], over: object = {}) => ({
  arazzo: '1.0.1',
  info: { title: 'Pets', version: '1', 'x-workspace': 'live', 'x-owner': 'jun@a.example' },
  sourceDescriptions: SOURCES,
  workflows: [{ workflowId: 'loginUserAndRetrievePet', summary: 'Login and retrieve pets', steps }],
  ...over,
});
const LOGIN = {
  stepId: 'loginStep',
  description: 'Login',
  operationId: '$sourceDescriptions.petStoreDescription.loginUser',
};
const GET_PETS = {
  stepId: 'getPetStep',
  operationPath: '{$sourceDescriptions.petStoreDescription.url}#/paths/~1pet~1findByStatus/get',
};
const read = (given: unknown, services: readonly FlowService[] = SERVICES) => {
  const reading = readArazzo(given, services);
  if (reading.status === 'refused') throw new Error(`${reading.at} ${reading.why}`);
  return reading.flow;
};

it('reads the steps of a workflow in their order, by operation and by path', () => {
  expect(read(document([LOGIN, GET_PETS]))).toEqual({
    ...{ kind: 'flow', id: 'loginUserAndRetrievePet', name: 'Login and retrieve pets', madeAt: 0 },
    ...{ owner: 'jun@a.example', workspace: 'live' },
    steps: [
      {
        ...{ id: 'loginStep', name: 'Login', service: 'petStoreDescription' },
        operation: 'loginUser',
        after: [],
      },
      {
        ...{ id: 'getPetStep', name: 'getPetStep', service: 'petStoreDescription' },
        ...{ operation: 'GET /pet/findByStatus', after: ['loginStep'] },
      },
    ],
  });
});

it.each([
  ['by id', 'loginUser', 'loginUser'],
  ['by method and path', 'POST /user/login', 'loginUser'],
  ['by a pointer', '#/paths/~1user~1login/post', 'loginUser'],
  [
    'by a pointer behind the address of its document',
    'https://pets.example/a.yaml#/paths/~1user~1login/post',
    'loginUser',
  ],
  ['by an escaped pointer', '#/paths/%7E1user%7E1login/post', 'loginUser'],
  ['that is not there', 'GET /user/login', undefined],
  ['with an escape that is none', '#/paths/%E0%A4%A/post', undefined],
])('finds an operation %s', (_what, name, id) => {
  expect(operationNamed(SERVICES[0], name)?.id).toBe(id);
});

it('closes a loop where an action goes back, and lets what is read there reach every step', () => {
  const back = { name: 'again', type: 'goto', stepId: 'loginStep' };
  const { steps } = read(document([LOGIN, { ...GET_PETS, onSuccess: [back] }]));
  expect(steps[0]?.after).toEqual(['getPetStep']);
});

it('takes the address that a step is given, and says of one put together at run time that it is', () => {
  const hook = { stepId: 'hook', operationId: '$sourceDescriptions.petStoreDescription.addHook' };
  const given = (over: object) => read(document([{ ...hook, ...over }])).steps[0]?.address;
  expect(given({ requestBody: { payload: { to: 'https://tides.example/x' } } })).toBe(
    'https://tides.example/x',
  );
  expect(given({ parameters: [{ name: 'limit', in: 'query', value: 3 }] })).toBeUndefined();
  for (const value of ['$inputs.target', 'https://{$inputs.host}/x', '{$steps.a.outputs.url}'])
    expect(readAddress(given({ parameters: [{ name: 'callbackUrl', in: 'query', value }] }) ?? '')).toEqual({
      status: 'fault',
      fault: 'made-at-run-time',
    });
});

it('is judged like a flow: what it names and nobody registered is told', () => {
  const chat = { stepId: 'tell', operationId: '$sourceDescriptions.Deck-chat.post' };
  const flow = read(document([GET_PETS, chat]));
  const register = { services: new Map(SERVICES.map((each) => [each.id, each])), labels: new Map() };
  expect(judgeAutomation(flow, [], register).breaches).toEqual([
    { set: null, steps: ['tell'], reason: { code: 'service-gone', service: 'Deck-chat' } },
  ]);
});

it.each([
  ['something else', { openapi: '3.1.0' }, 'document no-document'],
  ['nothing', null, 'document no-document'],
  ['a later version', document([LOGIN], { arazzo: '2.0.0' }), 'document no-document'],
  ['no workflow', document([], { workflows: [] }), 'workflows no-such-workflow'],
  ['a workflow without steps', document([]), 'workflow loginUserAndRetrievePet no-steps'],
  ['two workflows', document([], { workflows: [{}, {}] }), 'workflows several-workflows'],
  ['a step without an id', document([{ operationId: 'x' }]), 'step 1 step-without-id'],
  ['a workflow in a workflow', document([{ stepId: 'a', workflowId: 'b' }]), 'a calls-a-workflow'],
  ['a step that calls nothing', document([{ stepId: 'a' }]), 'a no-operation'],
  ['a pointer into nothing', document([{ stepId: 'a', operationPath: '/paths' }]), 'a no-operation'],
  ['an operation of no source', document([{ stepId: 'a', operationId: 'x' }]), 'a source-unknown'],
  [
    'a source that is not there',
    document([{ stepId: 'a', operationId: '$sourceDescriptions.z.x' }]),
    'a source-unknown',
  ],
])('refuses %s', (_what, given, words) => {
  expect(() => read(given)).toThrow(words);
});

it('chooses among several by name', () => {
  const workflows = ['a', 'b'].map((workflowId) => ({ workflowId, steps: [LOGIN] }));
  expect(read(document([], { workflows, info: { title: 'T', 'x-workflow': 'b' } })).id).toBe('b');
  expect([isArazzo(document([])), isArazzo({ kind: 'flow' }), isArazzo('arazzo: 1.0.0')]).toEqual([
    true,
    false,
    false,
  ]);
});
