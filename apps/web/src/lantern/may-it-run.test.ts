import { looksLikeAutomation } from './may-it-run';

it.each([
  ['a flow as JSON', '{"kind": "flow", "id": "x"}', true],
  ['an assistant as JSON of several lines', '{\n  "name": "x",\n  "kind": "assistant"\n}', true],
  ['a flow as YAML', 'name: x\nkind: flow\n', true],
  ['an Arazzo document as JSON', '{\n  "arazzo": "1.0.1"\n}', true],
  ['an Arazzo document as YAML', 'arazzo: 1.0.1\ninfo: {}\n', true],
  ['a sentence about kinds of flow', 'The kind: flows of water, and what arazzo means', false],
  ['a list of cards', 'card 4539 1488 0343 6467', false],
  ['another document with a kind', 'kind: Deployment\n', false],
  ['nothing', '', false],
])('knows %s', (_what, text, expected) => {
  expect(looksLikeAutomation(text)).toBe(expected);
});
