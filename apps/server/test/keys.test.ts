/** Each movement has a data key, which goes when what it seals goes; the master key around them changes while all runs. */
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ErrorBody, IncidentDetail, IncidentPage } from '@lantern/contracts';
import type { KeysView } from '@lantern/contracts/retention';
import { EvidenceEntity, IncidentEntity, MovementEntity } from '../src/incidents/incident.entity.js';
import { openTitle } from '../src/incidents/titles.js';
import { sealOldVerdicts } from '../src/incidents/verdicts.js';
import { DataKeyEntity } from '../src/platform/keys/data-key.entity.js';
import { openInstallationKey } from '../src/platform/keys/installation-key.js';
import { readMasterKeys } from '../src/platform/keys/key-file.js';
import { fingerprint, INSTALLATION, KeyRing } from '../src/platform/keys/key-ring.js';
import { KeyRotation } from '../src/platform/keys/key-rotation.service.js';
import { movementKey } from '../src/platform/keys/movement-keys.js';
import { SEALED_OF_MOVEMENT } from '../src/platform/keys/sealed-of-movement.js';
import { unseal } from '../src/platform/sealing.js';
import { PersonDataService } from '../src/retention/person-data.service.js';
import { Retention } from '../src/retention/retention.service.js';
import {
  CARDS,
  type Client,
  mailForm,
  OUTSIDE,
  publish,
  ruleOf,
  type Running,
  start,
  verdictsOf,
} from './harness.js';

const DAY_MS = 86_400_000;
const ORLA = 'orla.fenwick@merrowstrait.example';
const folder = mkdtempSync(join(tmpdir(), 'lantern-keys-'));
const secretsFile = join(folder, 'secrets.json');
let running: Running;
let client: Client;
const opened = new Set<KeyRotation>();

const table = <Row extends object>(entity: new () => Row) => running.database.getRepository(entity);
const ring = () => running.config.keys;
/** A service that changes the master key, as one that reads a file of secrets has it. */
const rotation = (): KeyRotation => {
  const made = new KeyRotation(running.database.manager, { ...running.config, secretsFile });
  opened.add(made);
  return made;
};
async function send(subject: string): Promise<{ number: number; movementId: string }> {
  const { id } = await running.person('Orla Fenwick');
  const form = mailForm({ person: id, to: [OUTSIDE], subject, body: `${CARDS}, ${subject}` });
  await client.send('POST', '/stand-ins/mail/messages', form);
  const found = await table(MovementEntity).find({ where: { personAddress: ORLA } });
  const titles = await Promise.all(
    found.map(async (one) => [
      one,
      await openTitle(await movementKey(running.database.manager, ring(), one.id), one),
    ]),
  );
  const [movement] = titles.find(([, title]) => title === subject) as [MovementEntity, string];
  return { number: movement.incidentNumber ?? 0, movementId: movement.id };
}
const detail = async (number: number) =>
  (await client.get<IncidentDetail & ErrorBody>(`/incidents/${number}`)).body;

beforeAll(async () => {
  running = await start();
  client = await running.client();
  await publish(client, 'Cards', [ruleOf({ answer: 'note' })]);
});
afterAll(async () => {
  await running.stop();
  rmSync(folder, { recursive: true, force: true });
});

it('seals evidence, verdict and title of a movement with a key of its own', async () => {
  const [one, other] = [await send('first'), await send('second')];
  const movement = await table(MovementEntity).findOneByOrFail({ id: one.movementId });
  const evidence = await table(EvidenceEntity).findOneByOrFail({ movementId: one.movementId });
  const incident = await table(IncidentEntity).findOneByOrFail({ number: one.number });
  const key = await movementKey(running.database.manager, ring(), one.movementId);
  const wrong = await movementKey(running.database.manager, ring(), other.movementId);
  for (const [place, sealed] of [
    [SEALED_OF_MOVEMENT.title, movement.title],
    [SEALED_OF_MOVEMENT.evidence, evidence.sealed],
    [SEALED_OF_MOVEMENT.verdict, incident.sealedVerdict],
  ] as const) {
    const bytes = sealed ?? Buffer.alloc(0);
    expect((await unseal(key, place.place(one.movementId), bytes)).length).toBeGreaterThan(4);
    for (const not of [wrong, ring().installation])
      await expect(unseal(not, place.place(one.movementId), bytes)).rejects.toThrow();
  }
  // Nothing that names content stands in the clear beside it.
  const [row]: object[] = await running.database.query('SELECT * FROM incident WHERE number = ?', [
    one.number,
  ]);
  expect(JSON.stringify(row)).not.toMatch(/6467|9424|island-?holidays/u);
});

it('destroys the key of what is deleted, and seals what stays with a new one', async () => {
  const { number, movementId } = await send('kept for a while');
  const before = await table(DataKeyEntity).findOneByOrFail({ scope: movementId });
  const { sealed } = await table(EvidenceEntity).findOneByOrFail({ movementId });
  const { version } = await detail(number);
  await client.send('POST', `/incidents/${number}/acts`, { act: 'answer-looked-for', yes: false, version });
  const sweep = (kind: string, days: number) => client.send('PUT', `/retention/kinds/${kind}`, { days });
  await sweep('evidence', 10);
  await running.application.get(Retention).sweep(new Date(Date.now() + 11 * DAY_MS));
  // A copy of the evidence that lies somewhere opens with no key that is left.
  const after = await table(DataKeyEntity).findOneByOrFail({ scope: movementId });
  expect(after.wrapped).not.toEqual(before.wrapped);
  for (const key of [ring().unwrap(after), ring().installation])
    await expect(unseal(key, SEALED_OF_MOVEMENT.evidence.place(movementId), sealed)).rejects.toThrow();
  const left = await detail(number);
  expect(left).toMatchObject({ title: 'kept for a while', evidenceDeleted: true, parts: [] });
  expect(left.verdict.matches).toHaveLength(1);

  await sweep('incidents', 10);
  await running.application.get(Retention).sweep(new Date(Date.now() + 11 * DAY_MS));
  expect((await detail(number)).code).toBe('not-found');
  expect(await table(DataKeyEntity).countBy({ scope: movementId })).toBe(0);
  for (const kind of ['evidence', 'incidents'])
    await client.send('PUT', `/retention/kinds/${kind}`, { days: null });
});

it('keeps as many keys as movements when the data of a person goes', async () => {
  await send('of a person');
  await running.application.get(PersonDataService).remove(ORLA);
  const movements = await table(MovementEntity).find({ select: { id: true } });
  const keys = await table(DataKeyEntity).find();
  expect(keys.map(({ scope }) => scope).sort()).toEqual(
    [INSTALLATION, ...movements.map(({ id }) => id)].sort(),
  );
});

describe('the master key', () => {
  const masters = () => readMasterKeys(secretsFile);
  beforeAll(() => {
    const [master = Buffer.alloc(0)] = ring().all();
    const secrets = { databasePassword: 'stays', masterKey: master.toString('hex') };
    writeFileSync(secretsFile, JSON.stringify(secrets));
  });

  it('is not changed by a server that has it from its environment', async () => {
    expect((await client.get<KeysView>('/retention/keys')).body).toMatchObject({ canChange: false, left: 0 });
    const { status, body } = await client.send<ErrorBody>('POST', '/retention/keys/changes');
    expect([status, body.code]).toEqual([409, 'act-refused']);
  });

  it('changes while movements are recorded: all of them open afterwards, and the old key opens nothing', async () => {
    const earlier = await send('before the change');
    const [old = Buffer.alloc(0)] = masters();
    const change = rotation();
    // Two administrators at the same time: one of them changes it.
    const both = await Promise.allSettled([change.change(), change.change()]);
    expect(both.map(({ status }) => status)).toEqual(['fulfilled', 'rejected']);
    const view = await change.view();
    expect(view).toMatchObject({ running: true, canChange: true });
    await expect(change.change()).rejects.toThrow('being changed already');
    // Both stand in the file until no data key needs the old one.
    expect(masters()).toHaveLength(2);
    const during = await Promise.all(Array.from({ length: 6 }, (_one, at) => send(`meanwhile ${at}`)));
    await change.done();
    const [newest, ...more] = masters();
    expect([fingerprint(newest ?? old), more]).toEqual([view.master, []]);
    expect(newest).not.toEqual(old);
    expect(await change.view()).toMatchObject({ left: 0, running: false, master: view.master });
    for (const { number } of [earlier, ...during])
      expect((await detail(number)).parts.length).toBeGreaterThan(0);
    const before = new KeyRing([old]);
    for (const row of await table(DataKeyEntity).find())
      expect(() => before.unwrap(row)).toThrow('does not belong');
    expect(readFileSync(secretsFile, 'utf8')).toContain('stays');
  });

  it('is not changed where the file of secrets cannot be written', async () => {
    const config = { ...running.config, secretsFile: join(folder, 'nowhere', 'secrets.json') };
    const change = new KeyRotation(running.database.manager, config);
    const before = ring().newest;
    await expect(change.change()).rejects.toThrow('ENOENT');
    await change.done();
    expect([ring().newest, (await change.view()).running]).toEqual([before, false]);
  });

  it('goes on with a change that was cut off, at the next start', async () => {
    const [old = Buffer.alloc(0)] = ring().all();
    const made = randomBytes(32);
    writeFileSync(
      secretsFile,
      JSON.stringify({ masterKey: made.toString('hex'), earlierKeys: [old.toString('hex')] }),
    );
    ring().use(masters());
    const half = await table(DataKeyEntity).find({ take: 2 });
    for (const row of half) await table(DataKeyEntity).save({ ...ring().rewrap(row) });
    const again = rotation();
    expect((await again.view()).left).toBeGreaterThan(0);
    again.onApplicationBootstrap();
    await again.done();
    expect(masters()).toEqual([made]);
    expect(await again.view()).toMatchObject({ left: 0, master: fingerprint(made) });
    const { rows } = (await client.get<IncidentPage>('/incidents?order=number&filter=')).body;
    expect(rows.map(({ title }) => title)).toContain('before the change');
  });

  it('of another installation opens nothing: the server does not start, and says why', async () => {
    const wrong = openInstallationKey(running.database, new KeyRing([randomBytes(32)]));
    await expect(wrong).rejects.toThrow('does not belong to this database');
  });
});

it('goes on with what a version before data keys sealed, and seals verdicts that stood in the clear', async () => {
  const { number, movementId } = await send('from before');
  const [verdict] = await verdictsOf(running);
  // As that version left it: one key for everything, the verdict as text.
  const { manager } = running.database;
  await manager.delete(DataKeyEntity, [INSTALLATION, movementId]);
  const [old = Buffer.alloc(0)] = ring().all();
  const earlier = new KeyRing([old]);
  await openInstallationKey(running.database, earlier);
  expect(earlier.installation).toEqual(old);
  ring().useInstallation(await table(DataKeyEntity).findOneByOrFail({ scope: INSTALLATION }));
  await manager.query('UPDATE incident SET verdict = ?, sealedVerdict = NULL WHERE number = ?', [
    ...[JSON.stringify(verdict), number],
  ]);
  await sealOldVerdicts(manager, ring());
  const [row]: { verdict: string | null }[] = await manager.query(
    'SELECT verdict FROM incident WHERE number = ?',
    [number],
  );
  expect(row?.verdict).toBeNull();
  expect((await verdictsOf(running))[0]).toEqual(verdict);
});
