import { createHash, createHmac } from 'node:crypto';
import { spawn } from 'node:child_process';
import {
  chmodSync,
  closeSync,
  createReadStream,
  existsSync,
  fsyncSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statfsSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { startDatabase } from './database.mjs';
import { demandProgram } from './debian.mjs';
import { ROOT, TRAIL_HEADS } from './paths.mjs';
import { capture, commandLine, isAlive } from './processes.mjs';
import { PlainFailure, say } from './say.mjs';
import { withMasterKey } from './secrets.mjs';
import { trailOf } from './trail-database.mjs';

/** What tells a backup of ours from other files. */
const KIND = 'uncut-lantern backup';
/** Largest row of the database, evidence included. */
const PACKET = '--max-allowed-packet=128M';
/** A dump is text: sealed bytes take two digits each. */
const DUMP_FACTOR = 2.2;

/** Tells keys apart without telling anything of them. */
export function keyFingerprint(masterKey) {
  return createHmac('sha256', Buffer.from(masterKey, 'hex')).update(KIND).digest('hex').slice(0, 24);
}

/** Number of the newest migration that this version knows. */
export function newestMigration() {
  const numbers = readdirSync(join(ROOT, 'apps/server/src/migrations')).map((name) =>
    Number(name.slice(0, 4)),
  );
  return Math.max(...numbers.filter(Number.isInteger));
}

/**
 * Writes database, files of places and, where asked for, the keys of the installation in `data` into one file, also
 * while it runs: the database as it stands at one instant. Nothing is left where it fails.
 */
export async function makeBackup({ data, file, withKeys }) {
  const target = resolve(file);
  if (existsSync(target))
    throw new PlainFailure(
      `${file} exists already.`,
      'Nothing was written. Name a file that does not exist.',
    );
  if (!existsSync(dirname(target)))
    throw new PlainFailure(`The folder ${dirname(target)} does not exist.`, 'Create it first.');
  if (!existsSync(join(data, 'mariadb')))
    throw new PlainFailure(`There is no installation in ${data}.`, 'Start it once with npm start.');
  const secrets = withMasterKey(JSON.parse(readFileSync(join(data, 'secrets.json'), 'utf8')));
  demandOneKey(secrets);
  demandRoomFor(target, data);
  const work = mkdtempSync(join(dirname(target), '.lantern-backup-'));
  const part = `${target}.part`;
  const { database, stop } = await reachDatabase(data, secrets);
  try {
    say('Writing the database …');
    await dump(database, join(work, 'database.sql'));
    const manifest = {
      ...{ kind: KIND, madeAt: new Date().toISOString(), migration: newestMigration(), withKeys },
      keyFingerprint: keyFingerprint(secrets.masterKey),
      databaseSha256: await sha256Of(join(work, 'database.sql')),
    };
    writeFileSync(join(work, 'backup.json'), JSON.stringify(manifest, null, 2));
    if (withKeys)
      writeFileSync(join(work, 'secrets.json'), JSON.stringify(secrets, null, 2), { mode: 0o600 });
    say('Writing the files of places …');
    const kept = ['places', TRAIL_HEADS].filter((name) => existsSync(join(data, name)));
    const places = kept.length > 0 ? ['-C', data, ...kept] : [];
    const names = ['backup.json', 'database.sql', ...(withKeys ? ['secrets.json'] : [])];
    writeFileSync(part, '', { mode: 0o600 });
    const packed = await capture('tar', ['-czf', part, '-C', work, ...names, ...places]);
    // Tar says 1 where a file changed while it was read: it is kept as it then was.
    if (packed.code > 1) throw failed('The files could not be packed', packed.output);
    settle(part);
    renameSync(part, target);
    return { ...manifest, bytes: statSync(target).size };
  } catch (error) {
    rmSync(part, { force: true });
    if (error?.code === 'ENOSPC') throw failed('The disk is full', '');
    throw error;
  } finally {
    rmSync(work, { recursive: true, force: true });
    await stop();
  }
}

/**
 * Puts a backup into an installation that holds nothing yet. Everything that can be known is checked before anything is
 * written; where it fails later, what was written is removed.
 */
export async function restoreBackup({ data, file, keysFile }) {
  const source = resolve(file);
  if (!existsSync(source)) throw new PlainFailure(`There is no file ${file}.`, 'Check the name.');
  if (existsSync(join(data, 'mariadb')))
    throw new PlainFailure(
      `There is an installation in ${data} already.`,
      'Nothing was changed. Stop it and move that folder away, or name another one in LANTERN_DATA.',
    );
  mkdirSync(data, { recursive: true, mode: 0o700 });
  const work = mkdtempSync(join(data, '.restore-'));
  const made = ['mariadb', 'mariadb.log', 'mariadb.pid', 'keeper.json', 'places', TRAIL_HEADS].map((name) =>
    join(data, name),
  );
  const secretsFile = join(data, 'secrets.json');
  const earlier = existsSync(secretsFile) ? readFileSync(secretsFile) : null;
  let isDone = false;
  let database;
  try {
    say('Reading the backup …');
    await unpack(source, work);
    const manifest = readManifest(work);
    if ((await sha256Of(join(work, 'database.sql'))) !== manifest.databaseSha256)
      throw new PlainFailure(
        'The database in this backup is damaged.',
        'Nothing was changed. Use another backup.',
      );
    const secrets = secretsFor(manifest, { work, keysFile, data });
    demandSameKeys(earlier, secrets, secretsFile);
    writeFileSync(secretsFile, JSON.stringify(secrets, null, 2), { mode: 0o600 });
    database = await startDatabase(data, secrets.databasePassword, undefined, { restoring: true });
    say('Filling the database …');
    await fill(database, join(work, 'database.sql'));
    for (const name of ['places', TRAIL_HEADS])
      if (existsSync(join(work, name))) renameSync(join(work, name), join(data, name));
    isDone = true;
    return manifest;
  } finally {
    await database?.stop();
    rmSync(work, { recursive: true, force: true });
    if (!isDone) {
      for (const path of made) rmSync(path, { recursive: true, force: true });
      if (earlier) writeFileSync(secretsFile, earlier, { mode: 0o600 });
      else rmSync(secretsFile, { force: true });
    }
  }
}

const failed = (what, output) =>
  new PlainFailure(
    `${what}${output.trim() ? `:\n${output.trim().split('\n').slice(-3).join('\n')}` : '.'}`,
    'Nothing was left behind, and nothing of the installation was changed.',
  );

/** The database of a running installation, or one that is started for this alone; and how to let go of it. */
export async function reachDatabase(data, secrets) {
  const running = portOfRunning(data);
  const known = { host: '127.0.0.1', user: 'app', password: secrets.databasePassword, database: 'lantern' };
  if (running !== null) return { database: { ...known, port: running }, stop: async () => undefined };
  const database = await startDatabase(data, secrets.databasePassword);
  return { database, stop: database.stop };
}

function portOfRunning(data) {
  const pidFile = join(data, 'mariadb.pid');
  if (!existsSync(pidFile)) return null;
  const pid = Number.parseInt(readFileSync(pidFile, 'utf8'), 10);
  const line = Number.isInteger(pid) && isAlive(pid) ? commandLine(pid) : '';
  if (!line.includes(`--datadir=${join(data, 'mariadb')} `)) return null;
  const [, port] = /--port=(\d+)/.exec(line) ?? [];
  return port === undefined ? null : Number(port);
}

const connection = ({ host, port, user }) => [
  ...['--no-defaults', `--host=${host}`, `--port=${port}`, `--user=${user}`, '--protocol=tcp'],
  ...[PACKET, '--default-character-set=utf8mb4'],
];

async function dump(database, into) {
  const program = await demandProgram('mariadb-dump', ['mariadb-client']);
  const { code, output } = await capture(
    program,
    [
      ...connection(database),
      // One instant of all tables, without keeping anybody from writing.
      ...['--single-transaction', '--quick', '--skip-lock-tables', '--hex-blob', '--no-tablespaces'],
      ...[`--result-file=${into}`, '--no-create-db'],
      ...['--databases', database.database, trailOf(database.database)],
    ],
    { env: { ...process.env, MYSQL_PWD: database.password } },
  );
  if (code !== 0) throw failed('The database could not be written', output);
  chmodSync(into, 0o600);
}

async function fill(database, from) {
  const program = await demandProgram('mariadb', ['mariadb-client']);
  const child = spawn(program, [...connection(database), database.database], {
    env: { ...process.env, MYSQL_PWD: database.password },
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (chunk) => (said = (said + chunk).slice(-2_000)));
  child.stdin.on('error', () => undefined);
  createReadStream(from).pipe(child.stdin);
  const code = await new Promise((settled) => child.once('close', settled));
  if (code !== 0) throw failed('The database could not be filled', said);
}

async function unpack(source, work) {
  const listed = await capture('tar', ['-tzf', source]);
  const names = listed.output.split('\n').filter(Boolean);
  const isOurs = (name) =>
    /^(backup\.json|database\.sql|secrets\.json|trail-heads\.jsonl|places(\/.*)?)$/.test(name);
  if (listed.code !== 0 || !names.includes('backup.json') || !names.includes('database.sql'))
    throw new PlainFailure('This is not a backup of Uncut Lantern.', 'Nothing was changed.');
  // A name that leads out of the folder would write anywhere.
  if (!names.every((name) => isOurs(name) && !name.split('/').includes('..')))
    throw new PlainFailure('This backup holds names that none of ours has.', 'Nothing was changed.');
  const { code, output } = await capture('tar', ['-xzf', source, '--no-same-owner', '-C', work]);
  if (code !== 0) throw failed('The backup could not be read', output);
}

function readManifest(work) {
  const manifest = JSON.parse(readFileSync(join(work, 'backup.json'), 'utf8'));
  if (manifest.kind !== KIND)
    throw new PlainFailure('This is not a backup of Uncut Lantern.', 'Nothing was changed.');
  if (manifest.migration > newestMigration())
    throw new PlainFailure(
      'This backup was made by a newer version.',
      'Nothing was changed. Restore it with that version or a later one.',
    );
  return manifest;
}

/** While the master key changes, some data keys need the one and some the other: a backup would need both. */
function demandOneKey({ earlierKeys = [] }) {
  if (earlierKeys.length > 0)
    throw new PlainFailure(
      'The master key is being changed in this moment.',
      'Nothing was written. That takes seconds while Uncut Lantern runs: try again then.',
    );
}

/** Refuses to replace the keys of another installation: whatever they seal could not be read any more. */
function demandSameKeys(earlier, secrets, secretsFile) {
  if (!earlier || withMasterKey(JSON.parse(earlier.toString('utf8'))).masterKey === secrets.masterKey) return;
  throw new PlainFailure(
    `${secretsFile} holds the keys of another installation.`,
    'Nothing was changed. Move that file away, or name another folder in LANTERN_DATA.',
  );
}

/** Keys that open what the backup holds, from it, from a file that is named, or from the folder. */
function secretsFor(manifest, { work, keysFile, data }) {
  const from = manifest.withKeys ? join(work, 'secrets.json') : (keysFile ?? join(data, 'secrets.json'));
  if (!existsSync(from))
    throw new PlainFailure(
      'This backup was made without keys, and the keys are not here.',
      'Nothing was changed. Name the secrets.json of the installation: --keys FILE',
    );
  const secrets = withMasterKey(JSON.parse(readFileSync(from, 'utf8')));
  if (keyFingerprint(secrets.masterKey) !== manifest.keyFingerprint)
    throw new PlainFailure(
      'These keys do not open what this backup holds.',
      'Nothing was changed. Use the secrets.json of the installation that the backup is of.',
    );
  return secrets;
}

function demandRoomFor(target, data) {
  const disk = statfsSync(dirname(target));
  const free = disk.bavail * disk.bsize;
  const needed = sizeOf(join(data, 'mariadb', 'lantern')) * DUMP_FACTOR + sizeOf(join(data, 'places'));
  if (free >= needed) return;
  const megabytes = (bytes) => Math.ceil(bytes / 1e6);
  throw new PlainFailure(
    `${dirname(target)} has ${megabytes(free)} MB left; the backup may need ${megabytes(needed)} MB.`,
    'Nothing was written. Name a file on another disk.',
  );
}

function sizeOf(path) {
  if (!existsSync(path)) return 0;
  const found = statSync(path);
  if (!found.isDirectory()) return found.size;
  return readdirSync(path).reduce((sum, name) => sum + sizeOf(join(path, name)), 0);
}

/** On the disk, not only on its way there. */
function settle(path) {
  const handle = openSync(path, 'r+');
  fsyncSync(handle);
  closeSync(handle);
}

function sha256Of(path) {
  return new Promise((done, fail) => {
    const hash = createHash('sha256');
    createReadStream(path)
      .on('data', (chunk) => hash.update(chunk))
      .on('error', fail)
      .on('end', () => done(hash.digest('hex')));
  });
}

/** `backup.tar.gz, 12 MB`. */
export const sized = (file, bytes) => `${basename(file)}, ${Math.ceil(bytes / 1e6)} MB`;
