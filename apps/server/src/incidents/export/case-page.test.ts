import { parseDocument } from 'htmlparser2';
import type { IncidentDetail } from '@lantern/contracts';
import { findAll, textContent } from 'domutils';
import { casePage } from './case-page.js';

const HOSTILE = `</pre><script>alert(1)</script><img src=x onerror="alert(2)">'"&`;
const incident = {
  number: 7,
  at: '2026-11-30T08:00:00.000Z',
  person: { name: HOSTILE, address: 'a@b.example', department: '' },
  channel: 'mail',
  recipientAddresses: [{ address: HOSTILE, outside: true }],
  title: HOSTILE,
  counts: [{ pattern: 'p', findings: 1, distinct: 1, certainty: 90 }],
  answer: 'block',
  severity: 'high',
  status: 'new',
  outcome: null,
  assignee: null,
  revision: 1,
  notice: HOSTILE,
  parts: [
    {
      role: 'body',
      path: [HOSTILE],
      unreadable: null,
      findings: 1,
      notShown: 0,
      excerpts: [
        {
          line: 1,
          pieces: [{ text: HOSTILE }, { text: '•••• 1111', pattern: 'p', certainty: 90, evidence: [] }],
        },
      ],
    },
  ],
  history: [{ at: '2026', by: HOSTILE, kind: 'note', act: null, text: HOSTILE, bulk: null }],
} as unknown as IncidentDetail;

it('writes hostile text as text: no element, no attribute, nothing fetched', () => {
  const page = casePage([incident], (id) => id, { at: new Date(0), by: HOSTILE });
  const document = parseDocument(page);
  const names = findAll(() => true, document.children).map(({ name }) => name);
  expect(names).not.toContain('script');
  expect(names).not.toContain('img');
  const marks = findAll(({ name }) => name === 'mark', document.children);
  expect(marks.map((mark) => textContent(mark))).toEqual(['•••• 1111']);
  // All of it is still there to be read.
  expect(textContent(document).split(HOSTILE.slice(0, 20)).length).toBeGreaterThan(7);
  expect(page).toContain("default-src 'none'");
});
