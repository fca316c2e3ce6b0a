import { jest } from '@jest/globals';
import type { PersonNotice } from '@lantern/contracts';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, within } from '@testing-library/react';
import { Preview } from '../screens/policies/texts/preview';
import { PlayedContext } from './played';
import { Told } from './told';

const NOTICE: PersonNotice = {
  ...{ answer: 'block', state: 'refused', ask: null, override: null, incident: 7, decision: null },
  ...{ policyName: 'Cards', ruleNumber: 1, text: '', found: [], outside: [], unreadable: [] },
};
const idle = () => ({ mutate: jest.fn(), isPending: false, error: null });
const linesOf = (element: HTMLElement): string[] =>
  [...element.querySelectorAll('p')].map(({ textContent }) => textContent ?? '');

it.each([
  ['en', 'Use the portal.', ['More: https://care.example', 'Questions: extension 0142']],
  ['de', 'Nehmen Sie das Portal.', ['Mehr dazu: https://care.example', 'Fragen: extension 0142']],
] as const)('shows in %s what the preview of its author showed, line by line', (language, text, beside) => {
  const words = { guidance: 'https://care.example', contact: 'extension 0142' };
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Preview draft={{ name: 'Portal', words: [{ language, text }], ...words }} />
      <PlayedContext value="p1">
        <Told
          {...{ id: 'm', about: 'mail', language, reported: false }}
          notice={{ ...NOTICE, text, ...words }}
          acts={{ reply: idle(), override: idle(), report: idle() }}
        />
      </PlayedContext>
    </QueryClientProvider>,
  );
  const previewed = linesOf(screen.getByRole('region', { name: 'Preview' }));
  expect(previewed).toEqual([text, ...beside]);
  const told = screen.getByRole('alert');
  for (const line of previewed) expect(within(told).queryByText(line)).not.toBeNull();
});
