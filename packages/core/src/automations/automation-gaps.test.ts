import { automationGaps, type GapsContext } from './automation-gaps.js';
import type { CrossingSet } from './crossing-set.js';
import type { AnyAutomation, FlowService } from './flow.js';

const service = (id: string, over: Partial<FlowService> = {}): FlowService => ({
  ...{ id, name: id, owner: '', ungoverned: null },
  operations: [{ id: 'call', name: 'Call', does: ['sends'], takesAddress: true }],
  ...over,
});
const set = (over: Partial<CrossingSet> = {}): CrossingSet => ({
  ...{ id: 's', name: 'S', workspaces: { with: ['live'], without: [] }, arrows: [], off: [], operations: [] },
  ...{ circles: [{ id: 'c', name: 'C', services: ['web'] }], laterServices: { kind: 'refused' } },
  ...{ knownOperations: {}, laterOperations: 'refused', addresses: [], assistants: [], since: null },
  ...over,
});
const flow = (id: string, over: Partial<AnyAutomation> = {}): AnyAutomation =>
  ({
    ...{ kind: 'flow', id, name: id, owner: '', workspace: 'live', madeAt: 10 },
    steps: [{ id: 'a', name: '', service: 'web', operation: 'call', after: [] }],
    ...over,
  }) as AnyAutomation;
const reader: AnyAutomation = {
  ...{ kind: 'assistant', id: 'r', name: 'R', owner: '', workspace: 'live', madeAt: 10, steps: [] },
  ...{ sources: [{ kind: 'place', name: 'P', label: 'high' }], audience: 'anybody', published: [] },
};
const context = (over: Partial<GapsContext> = {}): GapsContext => ({
  services: [service('web')],
  workspaces: [
    { id: 'live', name: 'Live', kind: 'live', department: '' },
    { id: 'trial', name: 'Trial', kind: 'trial', department: '' },
  ],
  labels: [
    { id: 'low', rank: 1 },
    { id: 'high', rank: 5 },
  ],
  running: [flow('f'), flow('g', { workspace: 'trial' }), reader],
  ...over,
});
const WEB = { service: 'web', lines: [], otherwise: 'refused' } as const;

it('names workspaces without a set, addresses without a list and labels without a line, with what runs there', () => {
  expect(automationGaps([set()], context())).toEqual([
    { kind: 'workspace', workspace: 'trial', running: 1 },
    { kind: 'addresses', service: 'web', running: 2 },
    { kind: 'label', label: 'low', running: 0 },
    { kind: 'label', label: 'high', running: 1 },
  ]);
});

it('names nothing where everything is guarded', () => {
  const guarded = set({
    ...{ workspaces: { with: [], without: [] }, addresses: [WEB] },
    assistants: [{ fromLabel: null, audience: 'signed-in', outlets: [] }],
  });
  expect(automationGaps([guarded], context())).toEqual([]);
});

it('takes a line for assistants from its label on, and not one that asks nothing', () => {
  const labels = (over: Partial<CrossingSet>) =>
    automationGaps(
      [set({ addresses: [WEB], workspaces: { with: [], without: [] }, ...over })],
      context(),
    ).map((gap) => (gap.kind === 'label' ? gap.label : gap.kind));
  expect(labels({ assistants: [{ fromLabel: 'high', audience: 'named', outlets: [] }] })).toEqual(['low']);
  expect(labels({ assistants: [{ fromLabel: null, audience: 'anybody', outlets: [] }] })).toEqual([
    'low',
    'high',
  ]);
  expect(labels({ assistants: [{ fromLabel: 'gone', audience: 'named', outlets: [] }] })).toEqual([
    'low',
    'high',
  ]);
});

it('names what cannot be governed, once, and what goes on because it is older', () => {
  const services = [service('web', { ungoverned: 'It asks nobody.' }), service('unused')];
  const sets = [set({ since: 11, workspaces: { with: [], without: ['trial'] } })];
  const gaps = automationGaps(sets, context({ services, labels: [] }));
  expect(gaps).toEqual([
    { kind: 'workspace', workspace: 'trial', running: 1 },
    { kind: 'ungoverned', service: 'web', why: 'It asks nobody.', running: 2 },
    { kind: 'older', set: 's', running: 2 },
  ]);
});

it('has every workspace and label open where there is no set at all', () => {
  expect(automationGaps([], context({ running: [] })).map(({ kind }) => kind)).toEqual([
    ...['workspace', 'workspace', 'label', 'label'],
  ]);
});
