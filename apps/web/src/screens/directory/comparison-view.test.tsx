import { jest } from '@jest/globals';
import type { DirectoryComparison } from '@lantern/contracts/directory';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { ComparisonView } from './comparison-view';

const person = (name: string) => ({
  ...{ address: `${name}@a.example`, name, department: 'Crew', office: '', title: '', groups: [] },
  ...{ manager: null, language: 'en', zone: '', key: null },
});
const comparison = (over: Partial<DirectoryComparison> = {}): DirectoryComparison => ({
  ...{ id: 'l', source: 'file', added: [], changed: [], left: [], refused: [], remarks: [], faults: [] },
  ...{ effects: [], vanishing: [], isIncomplete: false, leavingPercent: null },
  counts: { added: 0, changed: 0, left: 0, unchanged: 0, refused: 0, remarks: 0 },
  ...over,
});

function show(shown: DirectoryComparison) {
  const close = jest.fn();
  const asked: unknown[] = [];
  globalThis.fetch = jest.fn<typeof fetch>((_input, init) => {
    asked.push(JSON.parse(String(init?.body)));
    return Promise.resolve(new Response(JSON.stringify({ added: 0, changed: 0, left: 6 }), { status: 200 }));
  });
  const queries = new QueryClient();
  render(
    <QueryClientProvider client={queries}>
      <ComparisonView comparison={shown} close={close} />
    </QueryClientProvider>,
  );
  return { close, asked };
}
const takeOver = () => screen.getByRole('button', { name: 'Apply changes' });

it('takes nothing over where nothing would change', () => {
  show(comparison());
  expect(takeOver().getAttribute('aria-disabled')).toBe('true');
  expect(screen.queryByText('There is nothing to import')).not.toBeNull();
});

it('takes over only once somebody has said that so many have left, and says how many that were', async () => {
  const left = Array.from({ length: 6 }, (_unused, at) => person(`p${at}`));
  const counts = { ...comparison().counts, left: 6, unchanged: 4 };
  const { close, asked } = show(comparison({ left, counts, leavingPercent: 60 }));
  await userEvent.click(takeOver());
  expect(asked).toEqual([]);
  await userEvent.click(screen.getByLabelText('These people have left the organisation'));
  await userEvent.click(takeOver());
  await waitFor(() => expect(close).toHaveBeenCalled());
  expect(asked).toEqual([{ leavingPercent: 60 }]);
});

it('says of each change what was and what would be, and of each line that is not taken why', () => {
  const before = person('ada');
  const after = { ...before, department: 'Desk', groups: ['Deck'] };
  show(
    comparison({
      counts: { ...comparison().counts, changed: 1, refused: 1, remarks: 1 },
      changed: [{ before, after, fields: ['department', 'groups'] }],
      refused: [{ line: 9, code: 'twice', value: 'ada@a.example', other: 2 }],
      remarks: [{ line: 3, code: 'unknown-manager', address: 'ada@a.example', value: 'x@a.example' }],
      effects: [{ of: 'policy "Lists"', joining: 1, leaving: 2, examples: ['ada@a.example'] }],
      vanishing: [{ kind: 'group', name: 'Deck' }],
    }),
  );
  for (const words of [
    'Crew → Desk; none → Deck',
    'Line 9: ada@a.example is already in line 2. The first line counts.',
    'Line 3: The manager of ada@a.example, x@a.example, is not in the directory.',
    /policy "Lists": newly applies to 1 person, no longer applies to 2 people/,
    /would have them any more: group Deck\./,
  ])
    expect(screen.queryByText(words)).not.toBeNull();
});
