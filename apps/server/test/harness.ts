import 'reflect-metadata';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import {
  type IntakeAnswer,
  type IntakeResult,
  PERMISSIONS,
  type Permission,
  type PolicyView,
  type SessionView,
} from '@lantern/contracts';
import { directory, ORGANISATION, PARTNERS } from '@lantern/demo';
import type { INestApplication } from '@nestjs/common';
import mysql from 'mysql2/promise';
import { DataSource } from 'typeorm';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { hashPassword } from '../src/accounts/password.js';
import { GatewayServer } from '../src/doors/smtp/gateway.server.js';
import { PostOffice } from '../src/stand-ins/outside-mail/post-office.js';
import { createApplication } from '../src/app/application.js';
import { OrganisationEntity, PartnerEntity, PersonEntity } from '../src/directory/person.entity.js';
import { IncidentEntity } from '../src/incidents/incident.entity.js';
import { openVerdict } from '../src/incidents/verdicts.js';
import { movementKeys } from '../src/platform/keys/movement-keys.js';
import type { Verdict } from '@lantern/core/policy';
import { SetPartEntity } from '../src/policies/set-part.entity.js';
import { type Config, readConfig } from '../src/platform/config.js';

export const PASSWORD = 'correct horse battery';

/** A signed-in client of the running server. */
export interface Client {
  readonly session: SessionView;
  readonly cookie: string;
  get<Answer>(path: string): Promise<{ status: number; body: Answer }>;
  send<Answer>(method: string, path: string, body?: unknown): Promise<{ status: number; body: Answer }>;
}

export interface Running {
  readonly application: INestApplication;
  readonly database: DataSource;
  readonly address: string;
  readonly config: Config;
  client(email?: string): Promise<Client>;
  person(name: string): Promise<PersonEntity>;
  stop(): Promise<void>;
}

/** Names the database of this process of tests in the environment, so that servers started as programs find it too. */
function takeOwnDatabase(): void {
  const given = JSON.parse(process.env['LANTERN_DATABASE'] ?? '{}') as { database: string };
  const suffix = `_${process.env['JEST_WORKER_ID'] ?? '1'}`;
  if (given.database.endsWith(suffix)) return;
  process.env['LANTERN_DATABASE'] = JSON.stringify({ ...given, database: `${given.database}${suffix}` });
}

/** What the start command makes a trail with. */
function trailDatabase(): Promise<{ trailTables: (database: string) => string[] }> {
  const path = new URL('../../../scripts/lib/trail-database.mjs', import.meta.url).href;
  return import(path) as ReturnType<typeof trailDatabase>;
}

/** Does something with the account that the server does not have: it may change and delete entries of the trail. */
export async function asKeeper<Result>(
  config: Config,
  work: (connection: mysql.Connection) => Promise<Result>,
): Promise<Result> {
  const { host, port } = config.database;
  const password = process.env['LANTERN_KEEPER_PASSWORD'] ?? '';
  const connection = await mysql.createConnection({ host, port, user: 'keeper', password, timezone: 'Z' });
  try {
    return await work(connection);
  } finally {
    await connection.end();
  }
}

async function emptyDatabase(config: Config): Promise<void> {
  const { username, database, ...rest } = config.database;
  const connection = await mysql.createConnection({ ...rest, user: username });
  await connection.query(`CREATE DATABASE IF NOT EXISTS \`${database}\` CHARACTER SET utf8mb4`);
  await connection.changeUser({ database });
  const [rows] = await connection.query<mysql.RowDataPacket[]>('SHOW FULL TABLES');
  await connection.query('SET FOREIGN_KEY_CHECKS = 0');
  for (const row of rows) {
    const [name, kind] = Object.values(row).map(String);
    await connection.query(`DROP ${kind === 'VIEW' ? 'VIEW' : 'TABLE'} \`${name ?? ''}\``);
  }
  await connection.end();
  await asKeeper(config, async (keeper) => {
    await keeper.query(`DROP DATABASE IF EXISTS \`trail_of_${database}\``);
    for (const statement of (await trailDatabase()).trailTables(database)) await keeper.query(statement);
  });
}

/** Starts the real server on an empty database with the demo's people, two accounts and nothing published. */
export async function start(): Promise<Running> {
  takeOwnDatabase();
  const settings = readConfig(process.env);
  // A folder of its own: what another file of tests put into places must not be found here.
  mkdirSync(settings.places, { recursive: true });
  const places = mkdtempSync(join(settings.places, 'tests-'));
  const config = {
    ...settings,
    places,
    smtpPort: 0,
    postPort: 0,
    syslog: null,
    standIns: true,
    privateHooks: true,
  };
  await emptyDatabase(config);
  const application = await createApplication(config);
  await application.get(PostOffice).start();
  await application.get(GatewayServer).start();
  await application.listen(0, '127.0.0.1');
  const { port } = application.getHttpServer().address() as AddressInfo;
  const address = `http://127.0.0.1:${port}`;
  const database = application.get(DataSource);
  await seed(database);
  return {
    application,
    database,
    address,
    config,
    client: (email = 'analyst@merrowstrait.example') => signIn(address, email),
    person: (name) => database.getRepository(PersonEntity).findOneByOrFail({ name }),
    stop: async () => {
      await application.close();
      rmSync(config.places, { recursive: true, force: true });
    },
  };
}

async function seed(database: DataSource): Promise<void> {
  const manager = database.manager;
  await manager.insert(OrganisationEntity, { id: 1, ...ORGANISATION });
  await manager.insert(
    PersonEntity,
    directory().map((person) => ({
      id: randomUUID(),
      ...person,
      groups: [...person.groups],
      listed: [...person.groups],
    })),
  );
  await manager.insert(
    PartnerEntity,
    PARTNERS.map((partner) => ({ ...partner })),
  );
  await manager.insert(SetPartEntity, {
    id: TEXT_ID,
    kind: 'text',
    definition: {
      name: 'Use the portal',
      words: [{ language: 'en', text: 'Use the portal.' }],
      guidance: '',
      contact: '',
    },
    version: 1,
    updatedAt: new Date(),
    updatedBy: 'test',
  });
  const passwordHash = await hashPassword(PASSWORD);
  const account = (email: string, permissions: readonly Permission[]) =>
    manager.insert(AccountEntity, {
      id: randomUUID(),
      name: email.split('@')[0] ?? '',
      email,
      passwordHash,
      permissions: [...permissions],
    });
  await account('analyst@merrowstrait.example', PERMISSIONS);
  await account('second@merrowstrait.example', PERMISSIONS);
  await account('auditor@merrowstrait.example', [
    'incidents.read',
    'policies.read',
    'patterns.read',
    'people.read',
  ]);
}

async function signIn(address: string, email: string): Promise<Client> {
  const answer = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password: PASSWORD }),
  });
  const session = (await answer.json()) as SessionView;
  const cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  const headers = { cookie, 'x-csrf-token': session.csrfToken };
  const read = async <Answer>(response: Response) => ({
    status: response.status,
    body: (response.status === 204 ? undefined : await response.json()) as Answer,
  });
  return {
    session,
    cookie,
    get: async <Answer>(path: string) => read<Answer>(await fetch(`${address}/api${path}`, { headers })),
    send: async <Answer>(method: string, path: string, body?: unknown) => {
      const form = body instanceof FormData;
      return read<Answer>(
        await fetch(`${address}/api${path}`, {
          method,
          headers: form ? headers : { ...headers, 'content-type': 'application/json' },
          body: form ? body : JSON.stringify(body),
        }),
      );
    },
  };
}

/** Verdicts of all incidents, the newest first. */
export async function verdictsOf({ database, config }: Running): Promise<Verdict[]> {
  const incidents = await database.getRepository(IncidentEntity).find({ order: { number: 'DESC' } });
  const keyOf = await movementKeys(
    database.manager,
    config.keys,
    incidents.map(({ movementId }) => movementId),
  );
  return Promise.all(incidents.map((incident) => openVerdict(keyOf(incident.movementId), incident)));
}

export interface TestFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** The form that the mail window sends. */
export function mailForm(mail: {
  person: string;
  to: readonly string[];
  subject?: string;
  body?: string;
  files?: readonly TestFile[];
}): FormData {
  const form = new FormData();
  form.append('person', mail.person);
  form.append('to', JSON.stringify(mail.to));
  form.append('subject', mail.subject ?? 'Subject');
  form.append('body', mail.body ?? '');
  for (const file of mail.files ?? [])
    form.append('files', new Blob([new Uint8Array(file.bytes)]), file.name);
  return form;
}

/** The intake as an agent calls it with its key. */
export function agentOf({ address }: Pick<Running, 'address'>, key: string) {
  const call = async (path: string, init: RequestInit = {}) => {
    const response = await fetch(`${address}/api/intake/${path}`, {
      ...init,
      headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
    });
    const body: unknown = response.status === 204 ? null : await response.json();
    return { status: response.status, headers: response.headers, body };
  };
  const post = (path: string, body: object) => call(path, { method: 'POST', body: JSON.stringify(body) });
  /** What each of some movements led to. Throws where the whole request is refused. */
  const hand = async (...movements: readonly object[]): Promise<readonly IntakeResult[]> => {
    const { status, body } = await post('movements', { movements });
    if (status !== 200) throw new Error(`The intake answered ${status}`);
    return (body as IntakeAnswer).results;
  };
  return { call, post, hand };
}

/** A rule as the editor sends it: what is left out is filled in by the server. */
export function ruleOf(
  over: { readonly answer?: string; readonly severity?: string; readonly [field: string]: unknown } = {},
): object {
  const { answer = 'block', severity = 'high', ...rest } = over;
  return {
    id: randomUUID(),
    when: {
      kind: 'all',
      of: [
        { kind: 'findings', pattern: 'payment-card', atLeast: 2, distinct: true, certainty: 80 },
        { kind: 'recipient', quantity: 'any', side: 'outside' },
      ],
    },
    bands: [{ answer, severity, text: answer === 'note' ? null : TEXT_ID }],
    ...rest,
  };
}

/** The text that every test database holds. */
export const TEXT_ID = '7c0e5f5e-0000-4000-8000-000000000001';

/** A policy as the editor sends it. */
export function policyOf(name: string, rules: readonly object[], over: object = {}): { policy: object } {
  return { policy: { name, owner: 'desk', channels: ['mail'], rules, ...over } };
}

/** Creates a policy with these rules and publishes everything drafted. */
export async function publish(
  client: Client,
  name: string,
  rules: readonly object[],
  over: object = {},
): Promise<PolicyView> {
  const created = await client.send<PolicyView>('POST', '/policies', policyOf(name, rules, over));
  if (created.status !== 201)
    throw new Error(`Saving answered ${created.status}: ${JSON.stringify(created.body)}`);
  const published = await client.send('POST', '/revisions', { name: 'r', reason: 'test' });
  if (published.status !== 201)
    throw new Error(`Publishing answered ${published.status}: ${JSON.stringify(published.body)}`);
  return created.body;
}

export const CARDS = 'card 4539 1488 0343 6467 and card 6011 0009 9013 9424';
export const OUTSIDE = 'desk@islandholidays.example';
