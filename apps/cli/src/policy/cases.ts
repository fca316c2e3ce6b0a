import { basename, dirname, join } from 'node:path';
import { type Scanner } from '@lantern/core/detection';
import { domainOf, isUnder, type PersonFacts } from '@lantern/core/directory';
import {
  CHANNELS,
  type Channel,
  type InnerPlace,
  type InspectedMovement,
  type InspectedPart,
  type Machine,
  MACHINE_STATES,
} from '@lantern/core/movement';
import { targetsOf } from '@lantern/core/policy';
import { tableRows } from '@lantern/core/text';
import { fileFacts, openMail, readFile } from '@lantern/files';
import { type HandedIn, shapeFault } from '@lantern/contracts';
import { parseFile } from '@lantern/set-files';
import { bytesOf } from '../bytes-of.js';

/** A movement in a file, and what is expected of it; see docs/formats/policy-set.md. */
export interface Case {
  readonly name: string;
  readonly path: string;
  readonly line: number;
  readonly channel: Channel;
  readonly at: number;
  readonly from: PersonFacts;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[];
  /** Who is outside whatever the address. */
  readonly guests: readonly string[];
  /** Ids of labels that come along. */
  readonly labels: readonly string[];
  /** Out of what, into what, over what. */
  readonly way: Pick<InspectedMovement, 'from' | 'into' | 'link' | 'connection' | 'machine' | 'network'>;
  readonly expect: Expectation | null;
}

export interface Expectation {
  /** `none` for a movement that no rule names. */
  readonly answer?: string;
  readonly policy?: string;
  /** Number of the rule in its policy, from 1. */
  readonly rule?: number;
  /** Number of the band in its rule, from 1. */
  readonly band?: number;
}

/** Something in a file of cases that cannot be understood. */
export class CaseFault extends Error {}

/** The cases of a file: a list in YAML, or one mail. Throws a {@link CaseFault} that names the line. */
export async function casesIn(path: string): Promise<Case[]> {
  const bytes = bytesOf(path);
  if (path.endsWith('.eml')) return [await mailCase(path, bytes)];
  const parsed = parseFile({ path, text: Buffer.from(bytes).toString('utf8') });
  if (Array.isArray(parsed)) {
    const [first] = parsed;
    throw new CaseFault(`${path}:${first?.line ?? 1} ${first?.message ?? 'cannot be read'}`);
  }
  if (!Array.isArray(parsed.value)) throw new CaseFault(`${path}:1 must be a list of cases`);
  const movements = parsed.value
    .map((value: unknown, index) => ({ value, index }))
    .filter(({ value }) => !isFlowCase(value));
  return Promise.all(
    movements.map(({ value, index }) =>
      readCase(value, { path, lineOf: (field) => parsed.lineOf([index, ...(field ? [field] : [])]) }),
    ),
  );
}

/** Whether an entry of a file of cases is about a flow or an assistant, and not about a movement. */
export const isFlowCase = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && ('flow' in value || 'automation' in value);

interface Where {
  readonly path: string;
  lineOf(field?: string): number;
}

const FIELDS = [
  ...['case', 'channel', 'at', 'from', 'to', 'guests', 'subject', 'body', 'files', 'labels', 'expect'],
  ...['takenFrom', 'putInto', 'link', 'connection', 'machine', 'network'],
];
/** Cases without a time of their own happen on a working day at noon, UTC. */
const USUAL_TIME = '2026-03-04T12:00:00Z';

async function readCase(value: unknown, where: Where): Promise<Case> {
  const fault = (field: string | undefined, message: string): CaseFault =>
    new CaseFault(`${where.path}:${where.lineOf(field)} ${field ? `${field} ` : ''}${message}`);
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    throw fault(undefined, 'must hold fields');
  const fields = value as Record<string, unknown>;
  const unknown = Object.keys(fields).find((field) => !FIELDS.includes(field));
  if (unknown) throw fault(unknown, `is no field of a case; these are: ${FIELDS.join(', ')}`);
  const text = (field: string): string => {
    const given = fields[field] ?? '';
    if (typeof given !== 'string') throw fault(field, 'must be text');
    return given;
  };
  const texts = (field: string): string[] => {
    const given = fields[field] ?? [];
    if (!Array.isArray(given) || given.some((each) => typeof each !== 'string'))
      throw fault(field, 'must be a list of texts');
    return given as string[];
  };
  const channel = CHANNELS.find((known) => known === (fields['channel'] ?? 'mail'));
  if (!channel) throw fault('channel', `must be one of ${CHANNELS.join(', ')}`);
  const at = Date.parse(String(fields['at'] ?? USUAL_TIME));
  if (Number.isNaN(at)) throw fault('at', 'must be a time like 2026-03-04T12:00:00Z');
  const files = texts('files').map((name) => {
    try {
      return { name: basename(name), bytes: bytesOf(join(dirname(where.path), name)) };
    } catch {
      throw fault('files', `names "${name}", which is not beside it`);
    }
  });
  return {
    name: text('case') || `case on line ${where.lineOf()}`,
    path: where.path,
    line: where.lineOf(),
    channel,
    at,
    from: senderOf(fields['from'], fault),
    to: texts('to'),
    subject: text('subject'),
    body: text('body'),
    files,
    guests: texts('guests'),
    labels: texts('labels'),
    way: wayOf(fields, fault),
    expect: expectationOf(fields['expect'], fault),
  };
}

type Fault = (field: string | undefined, message: string) => CaseFault;

function senderOf(given: unknown, fault: Fault): PersonFacts {
  if (typeof given === 'string') return { address: given };
  if (typeof given === 'object' && given !== null && 'address' in given) return given as PersonFacts;
  throw fault('from', 'must be an address, or fields with an address');
}

/** Fields of a case about its way, held to the shape of a movement that an agent hands in. */
function wayOf(fields: Record<string, unknown>, fault: Fault): Case['way'] {
  const { machine, ...way } = pick(fields, [
    'takenFrom',
    'putInto',
    'link',
    'connection',
    'network',
    'machine',
  ]);
  const asHandedIn = { key: 'case', channel: 'mail', activity: 'send', person: 'case', ...way };
  const wrong = shapeFault('movement', asHandedIn);
  if (wrong) throw fault(String(wrong.path[0] ?? ''), wrong.message);
  const { takenFrom, putInto, link, connection, network } = way as Partial<HandedIn>;
  return {
    ...(takenFrom?.length ? { from: takenFrom } : {}),
    ...(putInto?.length ? { into: putInto } : {}),
    ...(link ? { link } : {}),
    ...(connection ? { connection } : {}),
    ...(network ? { network } : {}),
    ...(machine === undefined ? {} : { machine: machineOf(machine, fault) }),
  };
}

const pick = (fields: Record<string, unknown>, names: readonly string[]): Record<string, unknown> =>
  Object.fromEntries(names.flatMap((name) => (fields[name] === undefined ? [] : [[name, fields[name]]])));

function machineOf(given: unknown, fault: Fault): Machine {
  const { name = '', state = 'not-known', groups = [] } = (given ?? {}) as Partial<Machine>;
  const known = MACHINE_STATES.find((each) => each === state);
  if (typeof name !== 'string' || !known || !Array.isArray(groups))
    throw fault('machine', `must have a name, a state (${MACHINE_STATES.join(', ')}) and groups`);
  return { name, state: known, groups: groups.map(String) };
}

const EXPECTED = ['answer', 'policy', 'rule', 'band'];

function expectationOf(given: unknown, fault: Fault): Expectation | null {
  if (given === undefined) return null;
  if (typeof given === 'string') return { answer: given };
  if (typeof given !== 'object' || given === null) throw fault('expect', 'must be an answer or fields');
  const unknown = Object.keys(given).find((field) => !EXPECTED.includes(field));
  if (unknown) throw fault('expect', `has no field "${unknown}"; there are: ${EXPECTED.join(', ')}`);
  return given as Expectation;
}

async function mailCase(path: string, bytes: Uint8Array): Promise<Case> {
  const mail = await openMail(bytes);
  return {
    name: basename(path),
    path,
    line: 1,
    channel: 'mail',
    at: Date.parse(USUAL_TIME),
    from: { address: mail.from },
    to: mail.recipients,
    subject: mail.subject,
    body: mail.texts.map(({ text }) => text).join('\n\n'),
    files: mail.attachments,
    guests: [],
    labels: [],
    way: {},
    expect: null,
  };
}

/** Looks through a case and makes the movement of it that rules judge. */
export async function movementOf(
  given: Case,
  scanner: Scanner,
  domains: readonly string[],
): Promise<InspectedMovement> {
  const scanned = (
    role: 'subject' | 'body' | 'attachment',
    path: readonly string[],
    text: string,
    inner?: InnerPlace,
  ): InspectedPart => ({
    status: 'read',
    role,
    ...(inner === undefined ? {} : { inner }),
    path,
    characters: text.length,
    ...rowsIn(text),
    findings: scanner.scan(text).findings,
  });
  const parts = [scanned('subject', ['subject'], given.subject), scanned('body', ['body'], given.body)];
  for (const file of given.files) {
    for (const part of await readFile(file)) {
      parts.push(
        part.status === 'read'
          ? scanned('attachment', part.path, part.text, part.inner)
          : { status: 'unreadable', role: 'attachment', path: part.path, reason: part.reason },
      );
    }
  }
  const isOutside = (domain: string): boolean => !domains.some((own) => isUnder(domain, own));
  const people = [...given.to, ...given.guests].map((address) => ({
    address: address.toLowerCase(),
    outside: given.guests.includes(address) || isOutside(domainOf(address)),
  }));
  return {
    ...given.way,
    channel: given.channel,
    at: given.at,
    sender: given.from,
    recipients: [...people, ...targetsOf(given.way, isOutside)],
    parts,
    files: given.files.map(({ name, bytes }) => fileFacts(name, bytes)),
    labels: given.labels.map((id) => ({ id, name: id })),
    earlier: [],
  };
}

function rowsIn(text: string): { readonly rows?: number } {
  const rows = tableRows(text);
  return rows > 0 ? { rows } : {};
}
