import type { PersonNotice, PlayerView } from '@lantern/contracts';
import type { AssistantTalk, AutomationView, FlowRunView, StepRun } from '@lantern/contracts/crossings';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { PlayedContext } from '../played';
import { Ask } from './ask';
import { FlowRuns } from './flow-runs';

const PLAYER: PlayerView = {
  ...{ id: 'p1', name: 'Bea', address: 'bea@a.example', from: '', outside: false, language: 'en' },
};
const AT = '2026-03-04T12:00:00.000Z';

/** A server that answers each path as told, and notes what was sent to it. */
function serverThat(answers: Readonly<Record<string, unknown>>): string[] {
  const sent: string[] = [];
  Object.assign(globalThis, {
    fetch: (path: string, { method = 'GET', body }: { method?: string; body?: string } = {}) => {
      const key = `${method} ${path.replace('/api/stand-ins/automations/p1/', '')}`;
      if (method !== 'GET') sent.push(`${key}${body === undefined ? '' : ` ${body}`}`);
      const answer = answers[key];
      return Promise.resolve(
        answer === undefined
          ? new Response(JSON.stringify({ code: 'act-refused', message: 'This flow is running already.' }), {
              status: 409,
            })
          : new Response(JSON.stringify(answer), { status: 200 }),
      );
    },
  });
  return sent;
}

const shown = (content: React.ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <PlayedContext value="p1">{content}</PlayedContext>
    </QueryClientProvider>,
  );

describe('runs of a flow', () => {
  const step = (over: Partial<StepRun>): StepRun => ({
    ...{ step: 'a', name: 'Read', state: 'done', words: 'Read 100 records', incident: null },
    ...over,
  });
  const run = (over: Partial<FlowRunView>): FlowRunView => ({
    ...{
      notice: null,
      id: 'r1',
      startedAt: AT,
      endedAt: null,
      state: 'done',
      steps: [step({})],
      stepsInAll: 2,
    },
    ...over,
  });
  const view = (isOn: boolean) => ({ id: 'f1', isOn }) as AutomationView;

  it('are started by hand, where the flow is on and no run is open', async () => {
    const sent = serverThat({
      'GET automations/f1/runs': [run({})],
      'POST automations/f1/runs': run({ state: 'running' }),
    });
    shown(<FlowRuns player={PLAYER} view={view(true)} />);
    await screen.findByText(/1 of 2 steps done/u);
    await userEvent.click(screen.getByRole('button', { name: 'Run now' }));
    await waitFor(() => expect(sent).toEqual(['POST automations/f1/runs']));
  });

  it('cannot be started while the flow is off, and say so', async () => {
    serverThat({ 'GET automations/f1/runs': [] });
    shown(<FlowRuns player={PLAYER} view={view(false)} />);
    expect(screen.getByRole('button', { name: 'Run now' })).toHaveProperty('disabled', true);
    expect(screen.getByText('Switch the flow on to run it.')).toBeTruthy();
  });

  it('tell what became of each step, what waits, and can be ended', async () => {
    const waits = step({ step: 'b', name: 'Post', state: 'waiting', words: 'It waits.', incident: 7 });
    const sent = serverThat({
      'GET automations/f1/runs': [
        run({ state: 'waiting', steps: [step({}), waits] }),
        run({ id: 'r0', state: 'stopped' }),
      ],
    });
    shown(<FlowRuns player={PLAYER} view={view(true)} />);
    const told = await screen.findByRole('status');
    expect(
      within(told)
        .getAllByRole('listitem')
        .map(({ textContent }) => textContent),
    ).toEqual(['Read: done. Read 100 records', 'Post: waiting. It waits. Recorded as incident 7.']);
    expect(screen.getByText(/^Earlier: .* stopped$/u)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Run now' })).toHaveProperty('disabled', true);
    await userEvent.click(screen.getByRole('button', { name: 'End this run' }));
    await waitFor(() => expect(sent).toEqual(['POST automations/f1/runs/r1/stop']));
    // What the server refuses is said.
    expect(await screen.findByText('This flow is running already.')).toBeTruthy();
  });
});

describe('an assistant', () => {
  const talk = (over: Partial<AssistantTalk>): AssistantTalk => ({
    ...{ id: 't1', assistant: 'a1', at: AT, notice: null, reported: false },
    question: { text: 'When does it sail?', state: 'went-on' },
    answer: { text: 'At 22:40.', state: 'went-on' },
    ...over,
  });
  const offer = { id: 'a1', name: 'Times', owner: 'o@a.example', audience: 'anybody', reads: ['Timetables'] };

  it('is asked, and its answers stand under their questions', async () => {
    const sent = serverThat({
      'GET assistants': [offer],
      'GET assistants/a1/talks': [talk({})],
      'POST assistants/a1/talks': talk({}),
    });
    shown(<Ask player={PLAYER} assistant="a1" />);
    expect(await screen.findByText('Sources: Timetables. Owner: o@a.example.')).toBeTruthy();
    expect((await screen.findByRole('article')).textContent).toContain('At 22:40.');
    const field = screen.getByLabelText('Your question');
    expect(screen.getByRole('button', { name: 'Ask' })).toHaveProperty('disabled', true);
    await userEvent.type(field, '  And back?  ');
    await userEvent.click(screen.getByRole('button', { name: 'Ask' }));
    await waitFor(() => expect(sent).toEqual(['POST assistants/a1/talks {"question":"And back?"}']));
    await waitFor(() => expect(field).toHaveProperty('value', ''));
  });

  it('shows nothing of an answer that is held back, but why', async () => {
    const notice: PersonNotice = {
      ...{ answer: 'hold', state: 'waiting', text: 'Somebody looks at it first.', incident: 9, ask: null },
      ...{ override: null, decision: null, policyName: 'Cards', ruleNumber: 1, found: [], outside: [] },
      unreadable: [],
    };
    serverThat({
      'GET assistants': [],
      'GET assistants/a1/talks': [talk({ answer: { text: null, state: 'waiting' }, notice })],
    });
    shown(<Ask player={PLAYER} assistant="a1" />);
    const article = await screen.findByRole('article');
    expect(article.textContent).toContain('Somebody looks at it first.');
    expect(article.textContent).not.toContain('22:40');
  });
});
