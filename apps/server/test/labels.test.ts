import { jest } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type {
  ChooserView,
  HighestOfFiles,
  IncidentDetail,
  DocumentDetail,
  DocumentSummary,
  DraftView,
  ImportLabelsResult,
  IncidentPage,
  LabelChangePage,
  LabelHistoryEntry,
  LabelReview,
  LabelRunExpectation,
  LabelRunPage,
  LabelRunView,
  LabelSetText,
  LabelsView,
  MailDetail,
  MailSummary,
  SendMailResult,
} from '@lantern/contracts';
import { STARTER_LABELS } from '@lantern/demo';
import { labelsOnDisk, readFileLabels, writeFileLabel } from '@lantern/files';
import { docxFile } from '@lantern/testkit';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { PlaceEntity } from '../src/directory/place.entity.js';
import { LabelRunEntity } from '../src/labels/runs/label-run.entity.js';
import { LabelRunsService } from '../src/labels/runs/label-runs.service.js';
import {
  type Client,
  mailForm,
  OUTSIDE,
  PASSWORD,
  policyOf,
  publish as publishRules,
  ruleOf,
  type Running,
  start,
} from './harness.js';
import { hashPassword } from '../src/accounts/password.js';

// Runs over real files, each with threads of its own, take their seconds.
jest.setTimeout(180_000);

let running: Running;
let analyst: Client;
let reader: Client;
beforeAll(async () => {
  running = await start();
  const passwordHash = await hashPassword(PASSWORD);
  await running.database.getRepository(AccountEntity).insert({
    id: randomUUID(),
    name: 'business',
    email: 'business@merrowstrait.example',
    passwordHash,
    permissions: ['labels.read', 'labels.sign'],
  });
  analyst = await running.client();
  reader = await running.client('business@merrowstrait.example');
});
afterAll(() => running.stop());

const label = (name: string, rank: number, over: object = {}) => ({
  label: {
    name,
    rank,
    choosing: [{ when: `For ${name}` }],
    handling: {
      read: { kind: 'inside' },
      change: { kind: 'inside' },
      'take-out': { kind: 'inside' },
      'make-another': { kind: 'inside' },
      'pass-on': { kind: 'inside' },
    },
    markings: [{ place: 'top', text: '{label}' }],
    carriers: ['document', 'mail'],
    ...over,
  },
});
const made = async (path: string, body: object): Promise<string> => {
  const answer = await analyst.send<{ id: string; message?: string }>('POST', path, body);
  if (answer.status !== 201) throw new Error(`${answer.status} ${JSON.stringify(answer.body)}`);
  return answer.body.id;
};
const list = async (): Promise<LabelsView> => (await analyst.get<LabelsView>('/labels')).body;
const publish = (): Promise<{ status: number; body: unknown }> =>
  analyst.send('POST', '/revisions', { name: 'labels', reason: 'test' });

describe('labels, from a draft to people', () => {
  let low = '';
  let high = '';
  let offer = '';

  it('are drafts that nobody sees, with their problems where they stand', async () => {
    low = await made('/labels/labels', label('Quay', 100));
    high = await made('/labels/labels', label('Bridge', 100));
    const view = (await list()).labels.find((each) => each.label.id === high);
    expect([view?.state, view?.problems.map(({ code }) => code)]).toEqual([
      'new',
      ['equal-rank', 'published-to-nobody'],
    ]);
    const person = await running.person('Orla Fenwick');
    expect((await analyst.get<ChooserView>(`/stand-ins/labels/${person.id}/document`)).body.labels).toEqual(
      [],
    );
    const refused = await publish();
    expect([refused.status, (refused.body as { code: string }).code]).toEqual([422, 'problems-remain']);
    expect((await analyst.get<DraftView>('/revisions/draft')).body.labelProblems.length).toBeGreaterThan(0);
  });

  it('are saved by version, and their history says what changed and why', async () => {
    const view = (await list()).labels.find((each) => each.label.id === high)!;
    const change = { ...label('Bridge', 700), version: view.version, note: 'Two had one rank' };
    expect((await analyst.send('PUT', `/labels/labels/${high}`, change)).status).toBe(204);
    const again = await analyst.send<{ code: string }>('PUT', `/labels/labels/${high}`, change);
    expect([again.status, again.body.code]).toEqual([409, 'changed-meanwhile']);
    const history = (await analyst.get<LabelHistoryEntry[]>(`/labels/history/${high}`)).body;
    expect(history[0]).toMatchObject({
      by: 'analyst',
      note: 'Two had one rank',
      fields: [{ field: 'rank', before: '100', after: '700' }],
    });
  });

  it('refuse two of one name, and a shape that is none, with the field', async () => {
    const twice = await analyst.send<{ code: string }>('POST', '/labels/labels', label('quay', 5));
    expect([twice.status, twice.body.code]).toEqual([409, 'name-taken']);
    const wrong = await analyst.send<{ code: string }>(
      'POST',
      '/labels/labels',
      label('X', 5, { handling: { read: { kind: 'maybe' } } }),
    );
    expect([wrong.status, wrong.body.code]).toEqual([400, 'invalid-request']);
    expect(JSON.stringify(wrong.body)).toContain('handling');
  });

  it('are reviewed before: who gets what, and who stands under two offers', async () => {
    const terms = {
      carriers: ['document', 'mail'],
      labels: [low, high],
      needs: 'a-label',
      lowering: 'reason',
      telling: 'Choose one from Monday.',
    };
    offer = await made('/labels/offers', { offer: { name: 'All', ...terms } });
    const leads = { with: [{ kind: 'group', group: 'Leads' }], without: [] };
    const second = await made('/labels/offers', {
      offer: { name: 'Leads', ...terms, people: leads, lowering: 'second-person' },
    });
    const { body } = await reader.get<LabelReview>('/labels/review');
    expect(body.people).toHaveLength(126 * 2);
    expect(body.people[0]).toMatchObject({
      gains: ['Quay', 'Bridge'],
      loses: [],
      telling: 'Choose one from Monday.',
    });
    expect(body.disagreements[0]).toMatchObject({ first: 'All', second: 'Leads' });
    expect((await analyst.send('DELETE', `/labels/offers/${second}`)).status).toBe(204);
  });

  it('are signed off by the business, about what it read, without a right to edit', async () => {
    expect((await reader.send('POST', '/labels/labels', label('Mine', 7))).status).toBe(403);
    const { fingerprint } = (await reader.get<LabelSetText>('/labels/text')).body;
    expect(
      (await reader.send('POST', '/labels/sign-offs', { agrees: false, words: '', fingerprint })).status,
    ).toBe(400);
    expect(
      (await reader.send('POST', '/labels/sign-offs', { agrees: true, words: 'Good words', fingerprint }))
        .status,
    ).toBe(201);
    const view = (await list()).labels.find((each) => each.label.id === low)!;
    await analyst.send('PUT', `/labels/labels/${low}`, { ...label('Quayside', 100), version: view.version });
    const late = await reader.send<{ code: string }>('POST', '/labels/sign-offs', {
      agrees: true,
      words: '',
      fingerprint,
    });
    expect(late.body.code).toBe('changed-meanwhile');
    expect((await reader.get<LabelReview>('/labels/review')).body.signOffs).toMatchObject([
      { agrees: true, words: 'Good words', current: false },
    ]);
  });

  it('take effect when published, and each person is told in one mail', async () => {
    expect((await publish()).status).toBe(201);
    const person = await running.person('Orla Fenwick');
    const chooser = (await analyst.get<ChooserView>(`/stand-ins/labels/${person.id}/document`)).body;
    expect(chooser).toMatchObject({
      needsLabel: true,
      lowering: 'reason',
      labels: [{ name: 'Quayside' }, { name: 'Bridge', when: 'For Bridge' }],
    });
    const inbox = (await analyst.get<MailSummary[]>(`/stand-ins/mail/${person.id}/messages`)).body;
    expect(inbox.map(({ subject }) => subject)).toEqual(['Changes to your labels']);
    const mail = (await analyst.get<MailDetail>(`/stand-ins/mail/${person.id}/messages/${inbox[0]!.id}`))
      .body;
    expect(mail.body).toContain('Choose one from Monday.');
    expect(mail.body).toContain('For documents, from now on: you can choose Quayside, Bridge.');
  });

  it('cannot be removed any more, only retired', async () => {
    const used = await analyst.send<{ code: string }>('DELETE', `/labels/labels/${low}`);
    expect([used.status, used.body.code]).toEqual([409, 'in-use']);
    const view = (await list()).offers.find((each) => each.offer.id === offer)!;
    const { id: _id, ...fields } = view.offer;
    await analyst.send('PUT', `/labels/offers/${offer}`, {
      offer: { ...fields, labels: [high] },
      version: view.version,
    });
    const published = await analyst.send<{ code: string }>('DELETE', `/labels/labels/${low}`);
    expect([published.status, published.body.code]).toEqual([409, 'act-refused']);
  });
});

describe('a set of labels as a file', () => {
  it('goes out and comes back the same; a fault leaves the drafts as they are', async () => {
    const { text } = (await analyst.get<LabelSetText>('/labels/text')).body;
    const same = await analyst.send<ImportLabelsResult>('POST', '/labels/text', { text, onlyLook: false });
    expect(same.body).toEqual({ faults: [], changes: [] });
    const faulty = await analyst.send<ImportLabelsResult>('POST', '/labels/text', {
      text: text.replace('rank: 700', 'rank: high'),
      onlyLook: false,
    });
    expect(faulty.body.faults[0]).toMatchObject({
      path: 'labels.yaml',
      line: expect.any(Number),
      message: expect.stringContaining('rank'),
    });
    const renamed = text.replaceAll('Bridge', 'Wheelhouse');
    const looked = await analyst.send<ImportLabelsResult>('POST', '/labels/text', {
      text: renamed,
      onlyLook: true,
    });
    expect(looked.body.changes).toEqual([{ kind: 'labels', name: 'Wheelhouse', state: 'changed' }]);
    expect((await list()).labels.some((each) => each.label.name === 'Wheelhouse')).toBe(false);
  });
});

/** A file that carries a label as somebody else's program wrote it. */
async function labelledDocx(
  { id, name, rank }: (typeof STARTER_LABELS.labels)[number],
  text = 'x',
  setBy = 'x',
) {
  const writing = await writeFileLabel(
    { name: 'a.docx', bytes: await docxFile({ paragraphs: [text] }) },
    { label: { id, name, rank, setBy, setAt: '2026-01-01T00:00:00.000Z', how: 'by-hand' }, marks: [] },
  );
  if (writing.status !== 'written') throw new Error(writing.status);
  return writing.bytes;
}

describe('the document stand-in', () => {
  let orla: { id: string; address: string };
  let tomas: { id: string; address: string };
  const byName = new Map<string, string>();

  beforeAll(async () => {
    orla = await running.person('Orla Fenwick');
    tomas = await running.person('Tomas Reave');
    const text = JSON.stringify({
      format: 'uncut-lantern labels 1',
      labels: STARTER_LABELS.labels,
      offers: STARTER_LABELS.offers,
      automatic: STARTER_LABELS.automatic.filter(
        ({ places, name }) => places.length === 0 && !name.startsWith('Words'),
      ),
    });
    const taken = await analyst.send<ImportLabelsResult>('POST', '/labels/text', { text, onlyLook: false });
    expect(taken.body.faults).toEqual([]);
    expect((await publish()).status).toBe(201);
    for (const { id, name } of STARTER_LABELS.labels) byName.set(name, id);
  });

  const save = (over: object, id?: string) =>
    analyst.send<DocumentDetail & { code?: string; message?: string }>(
      id ? 'PUT' : 'POST',
      `/stand-ins/documents${id ? `/${id}` : ''}`,
      {
        person: orla.id,
        name: 'Plan.docx',
        paragraphs: ['Words'],
        label: byName.get('Ship’s company'),
        sharedWith: [],
        ...over,
      },
    );
  const download = async (person: string, id: string) => {
    const answer = await fetch(`${running.address}/api/stand-ins/documents/${person}/${id}/file`, {
      headers: { cookie: analyst.cookie },
    });
    return { status: answer.status, bytes: new Uint8Array(await answer.arrayBuffer()) };
  };

  it('keeps nothing without a label where one must be chosen', async () => {
    const refused = await save({ label: null });
    expect([refused.status, refused.body.code]).toEqual([422, 'label-needed']);
    const other = await save({ label: byName.get('Sealed hold') });
    expect(other.body.code).toBe('label-not-offered');
    expect((await analyst.get<DocumentSummary[]>(`/stand-ins/documents/${orla.id}`)).body).toEqual([]);
  });

  it('counts the documents that carry a label beside it', async () => {
    const id = byName.get('Bridge only');
    const items = async () => (await list()).labels.find(({ label }) => label.id === id)?.items ?? -1;
    const before = await items();
    for (const name of ['Carried 1.docx', 'Carried 2.docx']) await save({ name, label: id });
    expect(await items()).toBe(before + 2);
  });

  it('writes a real file with label and marks, and every change of label with its reason', async () => {
    const first = await save({ label: byName.get('Bridge only') });
    expect(first.body).toMatchObject({ version: 1, label: { name: 'Bridge only' }, paragraphs: ['Words'] });
    expect(first.body.marks.map(({ place }) => place)).toEqual(['top', 'foot', 'across']);
    const file = await download(orla.id, first.body.id);
    expect((await readFileLabels({ name: 'x.docx', bytes: file.bytes })).own).toMatchObject({
      name: 'Bridge only',
      rank: 700,
      setBy: orla.address,
      how: 'by-hand',
    });
    const silent = await save({ version: 1 }, first.body.id);
    expect(silent.body.code).toBe('reason-needed');
    const lowered = await save({ version: 1, reason: 'The plan is public now' }, first.body.id);
    expect(lowered.body).toMatchObject({ version: 2, label: { name: 'Ship’s company' } });
    const { body } = await analyst.get<LabelChangePage>('/labels/changes?shift=lowered');
    expect(body.rows).toMatchObject([
      {
        by: orla.address,
        shift: 'lowered',
        how: 'by-hand',
        before: { name: 'Bridge only' },
        after: { name: 'Ship’s company' },
        reason: 'The plan is public now',
      },
    ]);
    expect(body.counts).toMatchObject({ set: expect.any(Number), lowered: 1 });
    const late = await save({ version: 1, reason: 'Once more' }, first.body.id);
    expect(late.body.code).toBe('changed-meanwhile');
  });

  it('is labelled by a published rule when its content calls for it, and suggests while somebody types', async () => {
    const text = 'card 4539 1488 0343 6467 and card 6011 0009 9013 9424';
    const typed = await analyst.send<{ suggestion: unknown }>(
      'POST',
      `/stand-ins/labels/${orla.id}/document/suggestions`,
      {
        text,
      },
    );
    expect(typed.body.suggestion).toMatchObject({
      name: 'Passenger care',
      rule: 'Passports and payment cards',
    });
    const saved = await save({ paragraphs: [text], name: 'Refunds.docx' });
    expect(saved.body.label?.name).toBe('Passenger care');
    expect(saved.body.changes).toMatchObject([
      { shift: 'raised', how: 'automatically', by: 'Passports and payment cards' },
      { shift: 'set', how: 'by-hand' },
    ]);
  });

  it('lets a reader read and refuses the rest, with the clause and whom to ask', async () => {
    const shared = await save({
      label: byName.get('Passenger care'),
      sharedWith: [tomas.address],
      name: 'List.docx',
    });
    const seen = (await analyst.get<DocumentDetail>(`/stand-ins/documents/${tomas.id}/${shared.body.id}`))
      .body;
    expect(seen.paragraphs).toEqual(['Words']);
    expect(seen.leaves.map(({ effect, allowed }) => [effect, allowed])).toEqual([
      ['read', true],
      ['change', false],
      ['take-out', false],
      ['make-another', false],
      ['pass-on', false],
    ]);
    for (const effect of ['take-out', 'make-another', 'pass-on']) {
      const tried = await analyst.send<{ code: string; message: string }>(
        'POST',
        `/stand-ins/documents/${shared.body.id}/attempts`,
        { person: tomas.id, effect, to: 'x@y.example' },
      );
      expect([tried.status, tried.body.code]).toEqual([403, 'label-forbids']);
      expect(tried.body.message).toContain(orla.address);
    }
    expect((await download(tomas.id, shared.body.id)).status).toBe(403);
    const changed = await save(
      { person: tomas.id, version: 1, label: byName.get('Passenger care') },
      shared.body.id,
    );
    expect(changed.body.code).toBe('label-forbids');
    const stranger = await running.person('Mina Carrow');
    expect((await analyst.get(`/stand-ins/documents/${stranger.id}/${shared.body.id}`)).status).toBe(404);
  });

  it('shows nothing of a document to whom the label does not name', async () => {
    const hidden = await save({
      label: byName.get('Sick bay'),
      sharedWith: [(await running.person('Jun Abara')).address],
      paragraphs: ['Secret words'],
    });
    const jun = await running.person('Jun Abara');
    const { body } = await analyst.get<DocumentDetail>(`/stand-ins/documents/${jun.id}/${hidden.body.id}`);
    expect(body.paragraphs).toEqual([]);
    expect(JSON.stringify(body)).not.toContain('Secret words');
  });

  it('needs a second person where the offer says so, and nobody agrees to their own wish', async () => {
    const people = await running.database.query(
      "SELECT id, address FROM person WHERE department = 'Executive Office' ORDER BY name",
    );
    const [one, other] = people as { id: string; address: string }[];
    const sealed = await save({
      person: one!.id,
      label: byName.get('Sealed hold'),
      named: { read: [other!.address] },
      sharedWith: [other!.address],
    });
    const lowered = await save(
      {
        person: one!.id,
        version: 1,
        label: byName.get('Ship’s company'),
        reason: 'It is announced',
        named: { read: [other!.address] },
        sharedWith: [other!.address],
      },
      sealed.body.id,
    );
    expect(lowered.body).toMatchObject({
      label: { name: 'Sealed hold' },
      waiting: { label: 'Ship’s company', reason: 'It is announced' },
    });
    const own = await analyst.send<{ code: string }>(
      'POST',
      `/stand-ins/documents/${sealed.body.id}/lowering`,
      { person: one!.id, agrees: true },
    );
    expect(own.body.code).toBe('act-refused');
    const agreed = await analyst.send<DocumentDetail>(
      'POST',
      `/stand-ins/documents/${sealed.body.id}/lowering`,
      { person: other!.id, agrees: true },
    );
    expect(agreed.body).toMatchObject({ label: { name: 'Ship’s company' }, waiting: null });
    expect(agreed.body.changes[0]?.reason).toContain(`agreed by ${other!.address}`);
  });

  it('takes real files in: a label of ours stays, one of another maker is mapped, what is none is refused', async () => {
    const take = (name: string, bytes: Uint8Array) => {
      const form = new FormData();
      form.append('file', new Blob([new Uint8Array(bytes)]), name);
      return analyst.send<DocumentDetail & { code?: string }>(
        'POST',
        `/stand-ins/documents/${orla.id}/files`,
        form,
      );
    };
    const bridge = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only')!;
    const plain = await docxFile({ paragraphs: ['From elsewhere'], header: 'Their header' });
    const writing = await writeFileLabel(
      { name: 'a.docx', bytes: plain },
      {
        label: {
          id: bridge.id,
          name: bridge.name,
          rank: 700,
          setBy: 'x@y.example',
          setAt: '2026-01-01T00:00:00.000Z',
          how: 'by-hand',
        },
        marks: [],
      },
    );
    const taken = await take('Übersicht.docx', writing.status === 'written' ? writing.bytes : plain);
    expect(taken.body).toMatchObject({
      name: 'Übersicht.docx',
      label: { name: 'Bridge only' },
      changes: [{ how: 'inherited' }],
    });
    const edited = await save(
      { version: 1, name: 'Übersicht.docx', label: bridge.id, paragraphs: ['Changed', 'And more'] },
      taken.body.id,
    );
    expect(edited.body.paragraphs).toEqual(['Changed', 'And more']);
    expect((await take('no.docx', Buffer.from('not a document'))).body.code).toBe('file-refused');
  });

  it('stops a file in a mail that its label does not let this sender pass on, and records which label', async () => {
    const bridge = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only')!;
    const bytes = await labelledDocx(bridge, 'x', 'somebody.else@merrowstrait.example');
    const files = [{ name: 'a.docx', bytes }];
    const form = mailForm({ person: orla.id, to: [tomas.address], subject: 'Gates', body: 'Words', files });
    const { body } = await analyst.send<SendMailResult>('POST', '/stand-ins/mail/messages', form);
    expect(body).toMatchObject({
      status: 'refused',
      draft: { notice: { answer: 'block', label: 'Bridge only', policyName: '', override: null } },
    });
    const number = body.status === 'refused' ? (body.draft.notice?.incident ?? 0) : 0;
    const { body: incident } = await analyst.get<IncidentDetail>(`/incidents/${number}`);
    expect(incident).toMatchObject({
      matches: 1,
      verdict: {
        decidedBy: null,
        matches: [],
        forbidden: [{ label: { name: 'Bridge only' }, effect: 'pass-on', item: 'a.docx', answer: 'block' }],
      },
    });
  });

  it('gives a mail the highest label of its files', async () => {
    const bridge = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only')!;
    // Who set a label owns what it stands on, and may pass it on.
    const labelled = await labelledDocx(bridge, 'x', orla.address);
    const form = mailForm({
      person: orla.id,
      to: [tomas.address],
      subject: 'Gates',
      body: 'Words',
      files: [{ name: 'a.docx', bytes: labelled }],
    });
    form.append('label', byName.get('Ship’s company')!);
    const looked = mailForm({ person: orla.id, to: [], files: [{ name: 'a.docx', bytes: labelled }] });
    for (const field of ['to', 'subject', 'body']) looked.delete(field);
    const highest = await analyst.send<HighestOfFiles>('POST', '/stand-ins/mail/labels-of-files', looked);
    expect(highest).toMatchObject({ status: 200, body: { label: { name: 'Bridge only', rank: 700 } } });
    const chooser = await analyst.get<ChooserView>(`/stand-ins/labels/${orla.id}/mail`);
    expect(chooser.body.follows).toBe('takes-highest');
    const sent = await analyst.send<SendMailResult>('POST', '/stand-ins/mail/messages', form);
    expect(sent.body.status).toBe('sent');
    const inbox = (await analyst.get<MailSummary[]>(`/stand-ins/mail/${tomas.id}/messages`)).body;
    expect(inbox[0]).toMatchObject({ subject: '[Bridge only] Gates', label: { name: 'Bridge only' } });
    const mail = (await analyst.get<MailDetail>(`/stand-ins/mail/${tomas.id}/messages/${inbox[0]!.id}`)).body;
    expect(mail.body).toMatch(
      /^Bridge only · orla\.fenwick@merrowstrait\.example\n\nWords\n\nSet from its parts/,
    );
    const { rows } = (await analyst.get<LabelChangePage>('/labels/changes?how=inherited&search=orla')).body;
    expect(rows.some(({ carrier, reason }) => carrier === 'mail' && reason.includes('highest'))).toBe(true);
  });
});

describe('a rule about labels', () => {
  it('stops a mail whose file carries one, says so in its trace, and lets the bare one go', async () => {
    const bridge = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only')!;
    const orla = await running.person('Orla Fenwick');
    const when = {
      kind: 'all',
      of: [
        { kind: 'label', carries: 'one-of', labels: [bridge.id] },
        { kind: 'recipient', side: 'outside' },
      ],
    };
    await publishRules(analyst, 'Bridge only stays', [ruleOf({ when })]);
    const labelled = await labelledDocx(bridge);
    const send = async (bytes: Uint8Array) =>
      (
        await analyst.send<SendMailResult>(
          'POST',
          '/stand-ins/mail/messages',
          mailForm({ person: orla.id, to: [OUTSIDE], files: [{ name: 'a.docx', bytes }] }),
        )
      ).body;
    expect((await send(await docxFile({ paragraphs: ['x'] }))).status).toBe('sent');
    const refused = await send(labelled);
    expect(refused.status).toBe('refused');
    const { rows } = (await analyst.get<IncidentPage>('/incidents')).body;
    const { body } = await analyst.get<object>(`/incidents/${rows[0]!.number}`);
    expect(JSON.stringify(body)).toContain('"names":["Bridge only"');
  });

  it('must not ask for a label that is gone', async () => {
    const when = { kind: 'label', carries: 'one-of', labels: [randomUUID()] };
    const made = await analyst.send<{ problems: { code: string }[] }>(
      'POST',
      '/policies',
      policyOf('Gone', [ruleOf({ when })]),
    );
    expect(made.body.problems.map(({ code }) => code)).toContain('unknown-label');
    await analyst.send(
      'DELETE',
      `/policies/${(made.body as unknown as { policy: { id: string } }).policy.id}`,
    );
  });
});

describe('automatic rules through places', () => {
  const placeId = randomUUID();
  const emptyId = randomUUID();
  const folder = () => join(running.config.places, 'claims');
  const file = (name: string) => join(folder(), name);
  const until = async (id: string, states: readonly string[]): Promise<LabelRunView> => {
    // A run that never ends ends with the time of its test.
    for (;;) {
      const { body } = await analyst.get<LabelRunView>(`/label-runs/${id}`);
      if (states.includes(body.state)) return body;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };

  beforeAll(async () => {
    const about = { about: '', owner: 'bea.lindqvist@merrowstrait.example', sharedOutside: [] };
    await running.database.getRepository(PlaceEntity).insert([
      { id: placeId, name: 'Claims', folder: 'claims', ...about },
      { id: emptyId, name: 'Empty', folder: 'empty', ...about },
    ]);
    mkdirSync(join(folder(), '2026'), { recursive: true });
    const cards = 'card 4539 1488 0343 6467 and card 6011 0009 9013 9424';
    writeFileSync(file('2026/list.docx'), await docxFile({ paragraphs: [cards] }));
    writeFileSync(file('2026/list.csv'), cards);
    writeFileSync(file('2026/plain.txt'), 'nothing to see');
    writeFileSync(file('broken.docx'), (await docxFile({ paragraphs: ['x'] })).subarray(0, 400));
    const sealed = STARTER_LABELS.labels.find(({ name }) => name === 'Sealed hold')!;
    writeFileSync(file('higher.docx'), await labelledDocx(sealed, cards));
  });

  it('say beforehand what a run costs, and which place is empty', async () => {
    const { body } = await analyst.get<LabelRunExpectation>('/label-runs/expectation');
    expect(body).toMatchObject({ files: 5, guessed: true, empty: ['Empty'] });
  });

  it('only look first, list every file with its reason, and change nothing', async () => {
    const started = await analyst.send<LabelRunView>('POST', '/label-runs', {
      does: 'look',
      places: [placeId],
      rules: [],
    });
    const run = await until(started.body.id, ['done']);
    expect(run.outcomes).toEqual({ labelled: 2, 'already-higher': 1, nothing: 1, unreadable: 1 });
    expect(run.byLabel).toMatchObject({
      none: { before: 4, after: 2 },
      'Passenger care': { before: 0, after: 2 },
      'Sealed hold': { before: 1, after: 1 },
    });
    const { items } = (await analyst.get<LabelRunPage>(`/label-runs/${run.id}/items?outcome=labelled`)).body;
    expect(
      items.map(({ path, rule, held, applied }) => [path, rule, held.map(({ count }) => count), applied]),
    ).toEqual([
      ['2026/list.csv', 'Passports and payment cards', [2], false],
      ['2026/list.docx', 'Passports and payment cards', [2], false],
    ]);
    expect((await labelsOnDisk(file('2026/list.docx'))).own).toBeNull();
  });

  it('are turned on for real, and undone as a whole, except where somebody changed a label since', async () => {
    const started = await analyst.send<LabelRunView>('POST', '/label-runs', {
      does: 'label',
      places: [placeId],
      rules: [],
    });
    const run = await until(started.body.id, ['done']);
    expect((await labelsOnDisk(file('2026/list.docx'))).own).toMatchObject({
      name: 'Passenger care',
      how: 'automatically',
      setBy: 'Passports and payment cards',
    });
    expect(existsSync(file('2026/list.csv.label.json'))).toBe(true);
    const again = await analyst.send<LabelRunView>('POST', '/label-runs', {
      does: 'label',
      places: [placeId],
      rules: [],
    });
    expect((await until(again.body.id, ['done'])).outcomes).toMatchObject({ 'has-it': 2 });
    writeFileSync(file('2026/list.docx'), await docxFile({ paragraphs: ['made anew by hand'] }));
    await analyst.send('POST', `/label-runs/${run.id}/undo`);
    await until(run.id, ['undone']);
    expect(existsSync(file('2026/list.csv.label.json'))).toBe(false);
    const { items } = (await analyst.get<LabelRunPage>(`/label-runs/${run.id}/items?outcome=labelled`)).body;
    expect(items.map(({ path, reason }) => [path, reason])).toEqual([
      ['2026/list.csv', 'undone'],
      ['2026/list.docx', 'changed-since'],
    ]);
    const { rows } = (await analyst.get<LabelChangePage>('/labels/changes?search=Claims')).body;
    expect(rows.map(({ shift }) => shift)).toEqual(['removed', 'set', 'set']);
  });

  it('keep to the limit of a rule', async () => {
    const view = (await list()).automatic.find(
      ({ automatic }) => automatic.name === 'Passports and payment cards',
    )!;
    const { id, ...fields } = view.automatic;
    await analyst.send('PUT', `/labels/automatic/${id}`, {
      automatic: { ...fields, atMost: 1 },
      version: view.version,
    });
    // A rule that is drafted otherwise labels nothing, with a preview and without; a preview may try it.
    const order = { places: [placeId], rules: [id] };
    const refused = await analyst.send<{ code: string }>('POST', '/label-runs', { does: 'label', ...order });
    expect(refused.body.code).toBe('act-refused');
    const tried = await analyst.send<LabelRunView>('POST', '/label-runs', { does: 'look', ...order });
    const look = (await until(tried.body.id, ['done'])).id;
    const carried = () =>
      analyst.send<LabelRunView & { code?: string }>('POST', '/label-runs', {
        ...{ does: 'label', places: [], rules: [], look },
      });
    expect((await carried()).body.code).toBe('act-refused');
    expect((await publish()).status).toBe(201);
    const now = await carried();
    expect(now.status).toBeLessThan(300);
    const done = await until(now.body.id, ['done']);
    await analyst.send('POST', `/label-runs/${done.id}/undo`);
    await until(done.id, ['undone']);
    writeFileSync(file('2026/second.csv'), 'card 4539 1488 0343 6467 and card 6011 0009 9013 9424');
    const started = await analyst.send<LabelRunView>('POST', '/label-runs', {
      does: 'label',
      places: [placeId],
      rules: [id],
    });
    const run = await until(started.body.id, ['done']);
    const { items } = (await analyst.get<LabelRunPage>(`/label-runs/${run.id}/items?outcome=labelled`)).body;
    expect(items.map(({ applied, reason }) => [applied, reason])).toEqual([
      [true, null],
      [false, 'limit'],
    ]);
  });

  it('refuse a place or a rule that is not there, and an account that may not', async () => {
    const nowhere = await analyst.send('POST', '/label-runs', {
      does: 'look',
      places: [randomUUID()],
      rules: [],
    });
    expect(nowhere.status).toBe(404);
    expect(
      (await analyst.send('POST', '/label-runs', { does: 'look', places: [], rules: [randomUUID()] })).status,
    ).toBe(404);
    expect((await reader.send('POST', '/label-runs', { does: 'look', places: [], rules: [] })).status).toBe(
      403,
    );
  });

  it('go on behind the last file after a server that died', async () => {
    const rows = running.database.getRepository(LabelRunEntity);
    const started = await analyst.send<LabelRunView>('POST', '/label-runs', {
      does: 'look',
      places: [placeId],
      rules: [],
    });
    const whole = await until(started.body.id, ['done']);
    await rows.update({ id: whole.id }, { state: 'running', seen: 4 });
    await running.application.get(LabelRunsService).onModuleInit();
    expect((await analyst.get<LabelRunView>(`/label-runs/${whole.id}`)).body.state).toBe('cut-off');
    await analyst.send('POST', `/label-runs/${whole.id}/resume`);
    const resumed = await until(whole.id, ['done']);
    expect(resumed.seen).toBe(whole.total);
  });
});
