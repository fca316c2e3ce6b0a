import type { WatchSettings } from '@lantern/contracts/discovery';
import { costWords, settingsChanges } from './watching';

const IN_FORCE: WatchSettings = {
  folders: [{ path: '/media/stick', as: 'device', name: 'Stick', trusted: false }],
  person: 'bea.lindqvist@merrowstrait.example',
  cost: { processor: 0.5, bytesPerSecond: null, itemsPerSecond: null, batteryAbove: 40 },
};

it('says every limit, and nothing where there is none', () => {
  expect(costWords(null)).toEqual([]);
  expect(costWords({ processor: null, bytesPerSecond: null, itemsPerSecond: null })).toEqual([]);
  const all = costWords({
    ...{ processor: 1.5, bytesPerSecond: 2_000_000, itemsPerSecond: 20, batteryAbove: 30 },
    hours: { from: '19:00', to: '06:00' },
  });
  expect(all).toHaveLength(5);
  expect(all.join(' ')).toMatch(/150 % .* 20 items .* from 19:00 to 06:00 .* 30 %/u);
});

it('tells what a draft adds and takes away, and nothing of what stays', () => {
  expect(settingsChanges(IN_FORCE, { ...IN_FORCE })).toEqual({ added: [], gone: [] });
  const draft = {
    ...IN_FORCE,
    folders: [],
    cost: { ...IN_FORCE.cost, processor: 1 } as WatchSettings['cost'],
  };
  const { added, gone } = settingsChanges(IN_FORCE, draft);
  expect(added).toEqual(['Each may use 100 % of a processor.']);
  expect(gone).toEqual([
    'What arrives in /media/stick goes to a device of somebody else (Stick).',
    'Each may use 50 % of a processor.',
  ]);
});
