import { mkdtempSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { compileScanner, patternSet } from '@lantern/core/detection';
import { NO_LABELS } from '@lantern/core/labels';
import { setProblems } from '@lantern/core/policy';
import {
  CROSSINGS,
  EXCHANGES,
  ORGANISATION,
  POLICIES,
  SLACKWATER,
  SPOTS,
  STARTER_LABELS,
  TEXTS,
} from '@lantern/demo';
import { emlFile } from '@lantern/testkit';
import { writeCrossings, writeLabelSet, writeSet } from '@lantern/set-files';
import { type Case, casesIn } from './cases.js';
import { explained } from './explain.js';
import { flowCasesIn, flowOutcome } from './flow-cases.js';
import { automationIn, isAutomationFile, problemsOfCrossings, verdictOnFlow } from './flows.js';
import { patternsOf, readFolder } from './folder.js';
import { decidedAs, outcomeOf, verdictOf } from './judge-case.js';
import { readPolicyUsage } from './usage.js';

const PURCHASE = STARTER_LABELS.labels.find(({ name }) => name === 'Bridge only')!;
const folder = mkdtempSync(join(tmpdir(), 'lantern-policy-'));
afterAll(() => rmSync(folder, { recursive: true }));
const put = (path: string, content: string | Uint8Array): string => {
  const whole = join(folder, path);
  mkdirSync(dirname(whole), { recursive: true });
  writeFileSync(whole, content);
  return whole;
};
for (const { path, text } of writeSet({
  policies: POLICIES,
  texts: TEXTS,
  exchanges: EXCHANGES,
  spots: SPOTS,
  patterns: [SLACKWATER],
  domains: ORGANISATION.domains,
}))
  put(path, text);

const read = async () => {
  const reading = await readFolder(folder);
  if (reading.status !== 'read') throw new Error(JSON.stringify(reading.faults));
  return reading;
};
const judge = async (given: Case) => {
  const reading = await read();
  return verdictOf(given, reading, compileScanner(patternSet(reading.set.patterns)));
};

describe('a folder of policies', () => {
  it('reads as the demo publishes it, without problems', async () => {
    const reading = await read();
    expect(reading.set.policies).toEqual(POLICIES);
    expect(
      setProblems(reading.set, {
        patterns: patternsOf(reading),
        withoutSpecimens: new Set(),
        people: null,
        at: Date.parse('2026-11-01'),
      }),
    ).toEqual([]);
  });

  it('knows where each problem stands', async () => {
    const reading = await read();
    const [policy] = reading.set.policies;
    expect(reading.placeOf(String(policy?.id), ['rules', 0, 'bands', 1])).toMatchObject({
      path: 'policies/001-passenger-payment-data-leaves-by-mail.yaml',
    });
    expect(reading.placeOf('nobody', [])).toBeNull();
  });
});

describe('cases', () => {
  const path = put(
    'tests/cards.yaml',
    `- case: The ship, to the outside
  from: orla.fenwick@merrowstrait.example
  to: [x@elsewhere.example]
  body: Project Slackwater goes ahead
  expect: {answer: block, policy: The ship purchase stays inside, rule: 1}
- case: The ship, to a colleague
  from: {address: orla.fenwick@merrowstrait.example, department: Fleet}
  to: [b@merrowstrait.example]
  body: Project Slackwater goes ahead
  expect: none
- case: A booking, onto a strange stick
  channel: endpoint
  from: orla.fenwick@merrowstrait.example
  takenFrom: [{kind: application, name: Booking system}]
  putInto: [{kind: device, device: plugged-in, name: Blue stick, trusted: false}]
  body: Booking 4100
  expect: {answer: block, policy: What leaves a machine, rule: 1}
- case: A booking, into the manifest
  channel: endpoint
  from: orla.fenwick@merrowstrait.example
  takenFrom: [{kind: application, name: Booking system}]
  putInto: [{kind: application, name: Manifest editor}]
  body: Booking 4100
  expect: none
- case: A wrong hope
  channel: chat
  from: orla.fenwick@merrowstrait.example
  to: [x@elsewhere.example]
  body: Project Slackwater goes ahead
  expect: note
`,
  );

  it('are judged as the server judges, and held to what they expect', async () => {
    const { set } = await read();
    const cases = await casesIn(path);
    const outcomes = [];
    for (const given of cases) outcomes.push(outcomeOf(given, await judge(given), set));
    expect(outcomes.map(({ kept, decided, line }) => [kept, decided.answer, line])).toEqual([
      [true, 'block', 1],
      [true, 'none', 6],
      [true, 'block', 11],
      [true, 'none', 18],
      [false, 'block', 25],
    ]);
  });

  it('are labelled first by the automatic rules of the folder, own patterns by their names', async () => {
    const labelled = mkdtempSync(join(tmpdir(), 'lantern-labelled-'));
    const write = (path: string, text: string): void => {
      mkdirSync(dirname(join(labelled, path)), { recursive: true });
      writeFileSync(join(labelled, path), text);
    };
    write(
      'policies/labelled.yaml',
      [
        'name: Labelled',
        'owner: desk',
        'channels: [mail]',
        'rules:',
        '  - id: by-label',
        '    when: { kind: label, carries: one-of, labels: [Bridge only] }',
        '    bands: [{ answer: note, severity: low }]',
      ].join('\n'),
    );
    for (const { path: file, text } of writeSet({
      policies: [],
      texts: [],
      exchanges: [],
      spots: [],
      patterns: [SLACKWATER],
      domains: ORGANISATION.domains,
    }))
      write(file, text);
    const [words] = STARTER_LABELS.automatic;
    if (!words) throw new Error('no rule');
    const set = {
      ...NO_LABELS,
      labels: [PURCHASE],
      automatic: [
        {
          ...words,
          label: PURCHASE.id,
          does: 'apply' as const,
          content: words.content.map((term) => ({ ...term, atLeast: 1 })),
        },
      ],
    };
    write('labels.yaml', writeLabelSet(set, [{ id: String(SLACKWATER.id), name: SLACKWATER.name }]));
    const reading = await readFolder(labelled);
    rmSync(labelled, { recursive: true });
    if (reading.status !== 'read') throw new Error(JSON.stringify(reading.faults));
    const scanner = compileScanner(patternSet(reading.set.patterns));
    const decide = async (body: string) => {
      const file = put('labelled.yaml', `- from: a@b.example\n  to: [c@d.example]\n  body: ${body}\n`);
      const [given] = await casesIn(file);
      return given && decidedAs(await verdictOf(given, reading, scanner), reading.set);
    };
    expect(await decide('Slackwater, the Slackwater yard and the price')).toMatchObject({
      answer: 'note',
      policy: 'Labelled',
    });
    expect(await decide('the yard and the price')).toEqual({ answer: 'none' });
  });

  it('can be a mail', async () => {
    const mail = await emlFile({
      from: 'orla.fenwick@merrowstrait.example',
      to: ['x@elsewhere.example'],
      subject: 'Slackwater',
      text: 'see you',
      attachments: [],
    });
    const [given] = await casesIn(put('mail.eml', mail));
    if (!given) throw new Error('no case');
    expect(decidedAs(await judge(given), (await read()).set)).toMatchObject({ answer: 'block', rule: 1 });
  });

  it.each([
    ['- from: a@b.example\n  colour: red\n', ':2 colour is no field of a case'],
    ['- to: [a@b.example]\n', ':1 from must be an address'],
    ['- from: a@b.example\n  channel: pigeon\n', ':2 channel must be one of mail, chat'],
    ['- from: a@b.example\n  files: [gone.pdf]\n', ':2 files names "gone.pdf", which is not beside it'],
    ['- from: a@b.example\n  at: soon\n', ':2 at must be a time'],
    ['- from: a@b.example\n  expect: {colour: red}\n', 'has no field "colour"'],
    ['case: x\n', 'must be a list of cases'],
    ['- from: a@b.example\n  putInto: [{kind: boat, name: x}]\n', 'putInto'],
    ['- from: a@b.example\n  machine: {name: x, state: ours}\n', 'must have a name, a state'],
    ['- : [\n', ':'],
  ])('name what is wrong with %j', async (text, message) => {
    await expect(casesIn(put('wrong.yaml', text))).rejects.toThrow(message);
  });

  it('are explained rule by rule, each condition with its value', async () => {
    const [given] = await casesIn(path);
    if (!given) throw new Error('no case');
    const lines = explained(await judge(given), (await read()).set);
    expect(lines[0]).toBe('Answer: block.');
    expect(lines).toContain('  rule 1: held, and decides');
    expect(lines).toContain('    + recipient, side outside, quantity any: met 1 of 1 (elsewhere.example)');
    expect(lines).toContain('Guests in chats: not read (channel)');
    expect(lines.join('\n')).toContain('exchanges ["Card lists to the card processor"]: met 0 of 1');
    expect(lines.join('\n')).toContain('counted 0 of payment-card: in no band');
  });
});

describe('readPolicyUsage', () => {
  it.each([
    [['check', 'a'], { act: 'check', folder: 'a', json: false }],
    [['--json', 'test', 'a'], { act: 'test', folder: 'a', json: true }],
    [['explain', 'a', 'b.eml'], { act: 'explain', folder: 'a', json: false, movement: 'b.eml' }],
  ])('understands %j', (given, choices) =>
    expect(readPolicyUsage(given)).toEqual({ status: 'understood', choices }),
  );

  it.each([
    [[]],
    [['check']],
    [['burn', 'a']],
    [['check', 'a', 'b']],
    [['explain', 'a']],
    [['check', '--loud', 'a']],
  ])('says what is wrong with %j', (given) => expect(readPolicyUsage(given).status).toBe('wrong'));
});

describe('flows and assistants of a folder', () => {
  const flowOf = (over: object) =>
    JSON.stringify({
      ...{ kind: 'flow', id: 'x', name: 'Guests', owner: 'a@b.example', workspace: 'live' },
      steps: [
        { id: 'a', service: 'ledger', operation: 'read' },
        { id: 'b', service: 'poster', operation: 'post', after: ['a'] },
      ],
      ...over,
    });

  it('are judged by its crossings, with sentences', async () => {
    put('crossings.yaml', writeCrossings(CROSSINGS));
    put('labels.yaml', writeLabelSet({ ...STARTER_LABELS, automatic: [] }, []));
    const { crossings, labels } = await read();
    expect(problemsOfCrossings(crossings, labels)).toEqual([]);
    const verdictOn = (path: string) => verdictOnFlow(automationIn(path), crossings, labels);
    const refused = verdictOn(put('flows/guests.json', flowOf({})));
    expect([refused.verdict.runs, refused.sentences]).toEqual([
      false,
      ['Data from Booking ledger may not go to Social poster: no arrow leads from Aboard to Ashore.'],
    ]);
    const mended = [
      { id: 'a', service: 'ledger', operation: 'read' },
      { id: 'b', service: 'chat', operation: 'post', after: ['a'] },
    ];
    expect(verdictOn(put('flows/mended.json', flowOf({ steps: mended }))).verdict.runs).toBe(true);
    for (const name of ['crossings.yaml', 'labels.yaml']) rmSync(join(folder, name));
  });

  it('are cases of the folder, with what is expected of them', async () => {
    put('tests/flows/guests.json', flowOf({}));
    const path = put(
      'tests/flows.yaml',
      [
        '- case: Guests go to no poster',
        '  flow: flows/guests.json',
        '  expect: { runs: false, because: [no-arrow] }',
        '- case: Written here',
        '  automation: {kind: flow, id: y, name: Y, owner: a, workspace: live, steps: [{id: a, service: tides, operation: read}]}',
        '  expect: runs',
        '- case: Not as expected',
        '  flow: flows/guests.json',
        '  expect: { runs: false, because: [service-off] }',
        '- case: A movement',
        '  from: a@b.example',
        '  to: [c@d.example]',
      ].join('\n'),
    );
    const { services } = CROSSINGS;
    const outcomes = flowCasesIn(path, services).map((given) => {
      const { verdict } = verdictOnFlow(given.automation, CROSSINGS, { ...STARTER_LABELS, automatic: [] });
      return flowOutcome(given, verdict);
    });
    expect(outcomes.map(({ name, line, kept }) => [name, line, kept])).toEqual([
      ['Guests go to no poster', 1, true],
      ['Written here', 4, true],
      ['Not as expected', 7, false],
    ]);
    expect((await casesIn(path)).map(({ name }) => name)).toEqual(['A movement']);
    const wrong = (text: string) => () => flowCasesIn(put('tests/wrong-flows.yaml', text), services);
    expect(wrong('- flow: gone.json')).toThrow(/gone\.json/u);
    expect(wrong('- flow: flows/guests.json\n  shape: x')).toThrow(/:2 shape is no field/u);
    expect(wrong('- automation: {kind: flow}')).toThrow(/:1 automation /u);
    expect(wrong('- flow: flows/guests.json\n  expect: {runs: maybe}')).toThrow(/:2 expect runs must be/u);
    expect([isAutomationFile(path), isAutomationFile(join(folder, 'tests/flows/guests.json'))]).toEqual([
      false,
      true,
    ]);
    rmSync(join(folder, 'tests/flows'), { recursive: true });
    for (const name of ['flows.yaml', 'wrong-flows.yaml']) rmSync(join(folder, 'tests', name));
  });

  it('say what is wrong with a file, and where', () => {
    const wrong = put(
      'flows/wrong.yaml',
      'kind: flow\nid: x\nname: X\nowner: a\nworkspace: live\nsteps:\n  - {id: 1}\n',
    );
    expect(() => automationIn(wrong)).toThrow(/wrong\.yaml:7/u);
    expect(() => automationIn(put('flows/none.json', '{'))).toThrow(/none\.json/u);
  });

  it('are asked for by name', () => {
    expect(readPolicyUsage(['flow', 'a', 'b', 'c'])).toMatchObject({
      choices: { act: 'flow', folder: 'a', paths: ['b', 'c'] },
    });
    expect(readPolicyUsage(['flow', 'a'])).toMatchObject({ status: 'wrong' });
  });
});
