/**
 * Findings of other systems in the form of OCSF 1.3 (schema of the Open Cybersecurity Schema Framework): attribute names and
 * class ids from memory.
 */
import { readFinding } from './ocsf.js';

const FINDING = {
  class_uid: 2004,
  category_uid: 2,
  time: 1_796_000_000_000,
  severity_id: 4,
  metadata: { version: '1.3.0', product: { name: 'Harbour Watch', vendor_name: 'Quay Software' } },
  finding_info: { uid: 'hw-17', title: 'Card numbers in a public bucket', desc: 'Three files.' },
  evidences: [{ actor: { user: { email_addr: 'Ada@Merrow.example' } }, databucket: { name: 'fares' } }],
  device: { hostname: 'DESK-7' },
};

it('reads what it understands, and passes over the rest', () => {
  expect(readFinding({ ...FINDING, unmapped: { anything: [1] } })).toEqual({
    status: 'read',
    finding: {
      ...{
        origin: 'Harbour Watch',
        uid: 'hw-17',
        title: 'Card numbers in a public bucket',
        text: 'Three files.',
      },
      ...{
        severity: 'high',
        at: 1_796_000_000_000,
        person: 'ada@merrow.example',
        machine: 'DESK-7',
        channel: 'drive',
      },
    },
  });
});

it.each([
  ['an e-mail in the evidence', { evidences: [{ email: { from: 'a@b.example' } }] }, { channel: 'mail' }],
  ['a web address', { evidences: [{ url: { hostname: 'share.example' } }] }, { channel: 'browser' }],
  ['an interface', { api: { operation: 'export' }, evidences: [] }, { channel: 'business' }],
  ['nothing that says how', { evidences: [] }, { channel: 'endpoint', person: null }],
  ['a time as text', { time: undefined, time_dt: '2026-12-01T10:00:00Z' }, { at: Date.UTC(2026, 11, 1, 10) }],
  ['no time', { time: undefined }, { at: null }],
  ['an unknown severity', { severity_id: 99 }, { severity: 'medium' }],
  ['a fatal severity', { severity_id: 6 }, { severity: 'critical' }],
  ['no severity', { severity_id: undefined }, { severity: 'medium' }],
  [
    'marks that turn the writing',
    { finding_info: { uid: 'a', title: 'ab\u202excod.exe\n\u0000' } },
    { title: 'ab xcod.exe' },
  ],
  [
    'the class of earlier versions',
    { class_uid: 2001, finding_info: undefined, finding: { uid: 'old-1', title: 'Old' } },
    { uid: 'old-1', title: 'Old' },
  ],
  [
    'an owner where nobody acted',
    {
      evidences: [],
      resources: [{ owner: { name: 'files' } }, { owner: { email_addr: 'ben@merrow.example' } }],
    },
    { person: 'ben@merrow.example' },
  ],
])('reads %s', (_, over, wanted) => {
  const read = readFinding({ ...FINDING, ...over });
  expect(read).toMatchObject({ status: 'read', finding: wanted });
});

it.each([
  [null, 'no-object', ''],
  [[FINDING], 'no-object', ''],
  [{ ...FINDING, class_uid: undefined }, 'missing', 'class_uid'],
  [{ ...FINDING, class_uid: '2004' }, 'wrong-kind', 'class_uid'],
  [{ ...FINDING, class_uid: 2002 }, 'other-class', 'class_uid'],
  [{ ...FINDING, finding_info: 'text' }, 'missing', 'finding_info'],
  [{ ...FINDING, finding_info: { title: 'a' } }, 'missing', 'finding_info.uid'],
  [{ ...FINDING, finding_info: { uid: 7, title: 'a' } }, 'wrong-kind', 'finding_info.uid'],
  [{ ...FINDING, finding_info: { uid: 'a', title: ' \u0000 ' } }, 'wrong-kind', 'finding_info.title'],
  [{ ...FINDING, metadata: {} }, 'missing', 'metadata.product.name'],
  [{ ...FINDING, metadata: { product: { name: 'Uncut Lantern' } } }, 'own-finding', 'metadata.product.name'],
  [{ ...FINDING, time: 'yesterday' }, 'bad-time', 'time'],
  [{ ...FINDING, time: -1 }, 'bad-time', 'time'],
  [{ ...FINDING, time: 1e300 }, 'bad-time', 'time'],
  [{ ...FINDING, severity_id: 'high' }, 'wrong-kind', 'severity_id'],
])('says what is wrong with %j', (value, code, at) =>
  expect(readFinding(value)).toEqual({ status: 'faulty', fault: { code, at } }),
);
