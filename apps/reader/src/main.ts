import { access, constants } from 'node:fs/promises';
import { availableParallelism, hostname, release, type } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import type { ReaderRight } from '@lantern/contracts';
import { identityIn, keepIdentity, makeKeys, publicKeys } from './identity.js';
import { keepReading, READER_VERSION } from './reader.js';
import { Relay, relayAddress } from './relay.js';
import { answerFor, waitingLines } from './watching/answering.js';
import { enrol, Refused, Workbench } from './workbench.js';

const HELP = `Reads places near the data and hands in what it found; content stays where it is.

  npm run -s reader -- enrol --address URL ... --code CODE [--name NAME] [--data FOLDER] [--may-read FOLDER ...]
      Enrols this machine once. The code comes from the workbench (Discovery, Machines) and lives 15 minutes.
      With several addresses, of the workbench and of relays, it uses the nearest that answers.
      Only folders named by --may-read can be opened later, whoever asks.
  npm run -s reader -- run [--data FOLDER] [--processes N] [--relay-on HOST:PORT]
      Works until it is stopped. With --relay-on it is also a relay: other readers, enrolled with the address of
      this machine and that port, reach the workbench through it.
  npm run -s reader -- show [--data FOLDER]
      Says who this reader is, and what it may read and change.
  npm run -s reader -- waiting [--data FOLDER]
      Files of watched folders that are in quarantine here, and what is asked about them.
  npm run -s reader -- answer NUMBER goes-on|stays WORDS [--data FOLDER]
      Answers what is asked about one of them.`;

const WRONG_USAGE = 2;
const DEFAULT_DATA = join(process.cwd(), '.reader');
const MOST_PROCESSES = 8;

function say(line: string): void {
  process.stdout.write(`${line}\n`);
}

function fail(line: string, code = 1): void {
  process.stderr.write(`${line}\n`);
  process.exitCode = code;
}

/** What this account may do with each folder, found by asking the system. */
async function rightsOf(folders: readonly string[]): Promise<ReaderRight[]> {
  const may = (path: string, mode: number): Promise<boolean> =>
    access(path, mode).then(
      () => true,
      () => false,
    );
  const rights: ReaderRight[] = [];
  for (const folder of folders) {
    const path = resolve(folder);
    const reads = await may(path, constants.R_OK | constants.X_OK);
    rights.push({ code: reads ? 'reads' : 'reads-not', path });
    rights.push({ code: (await may(path, constants.W_OK)) ? 'writes' : 'writes-not', path });
  }
  return rights;
}

interface Choices {
  readonly addresses: readonly string[];
  readonly code?: string;
  readonly name?: string;
  readonly data: string;
  readonly allowed: readonly string[];
}

async function enrolHere({ addresses, code, name = hostname(), data, allowed }: Choices): Promise<void> {
  const [address, ...otherAddresses] = addresses;
  if (!address || !code) return fail(`enrol needs --address and --code.\n\n${HELP}`, WRONG_USAGE);
  if (identityIn(data)) return fail(`${data} holds a reader already. Choose another folder with --data.`);
  const keys = makeKeys();
  const rights = await rightsOf(allowed);
  const platform = `${type()} ${release()}`.slice(0, 120);
  const enrolled = await enrol(addresses, {
    ...{ code, name: name.slice(0, 120), platform, version: READER_VERSION, keys: publicKeys(keys), rights },
  });
  keepIdentity(data, {
    ...{ id: enrolled.id, name: enrolled.name, address, otherAddresses },
    ...{ allowed: allowed.map((path) => resolve(path)), keys },
    keyEndsAt: enrolled.keyEndsAt,
  });
  say(`Enrolled as "${enrolled.name}" in the group "${enrolled.group}".`);
  tellRights(rights);
}

function tellRights(rights: readonly ReaderRight[]): void {
  if (rights.length === 0) say('No folder of this machine may be opened: none was named by --may-read.');
  const words: Readonly<Record<ReaderRight['code'], string>> = {
    ...{ reads: 'may be read', 'reads-not': 'cannot be read by this account', writes: 'may be changed' },
    ...{
      'writes-not': 'cannot be changed: no labels, no quarantine',
      'recognises-text': '',
      'recognises-not': '',
    },
  };
  for (const { code, path } of rights) say(`  ${path} ${words[code]}`);
}

async function runHere(data: string, processes: number, relayOn: string | undefined): Promise<void> {
  const identity = identityIn(data);
  if (!identity) return fail(`No reader is enrolled in ${data}. Enrol it first.\n\n${HELP}`, WRONG_USAGE);
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => stop.abort());
  if (process.connected) process.once('disconnect', () => stop.abort());
  const addresses = [identity.address, ...(identity.otherAddresses ?? [])];
  say(`"${identity.name}" asks ${addresses.join(' or ')} for work.`);
  const at = relayOn === undefined ? null : relayAddress(relayOn);
  if (relayOn !== undefined && !at) return fail('--relay-on takes a port, or host:port.', WRONG_USAGE);
  const relay = at && (await relayFor(identity, at));
  if (relay === undefined) return;
  try {
    await keepReading(identity, { folder: data, processes, signal: stop.signal, say, relay });
  } finally {
    await relay?.close();
  }
}

/** Undefined where it cannot listen, which was said. */
async function relayFor(
  { id, address }: { readonly id: string; readonly address: string },
  at: { readonly host: string; readonly port: number },
): Promise<Relay | undefined> {
  try {
    const relay = await Relay.open(at, { workbench: address, own: id });
    say(
      `Relay for other readers on ${at.host}:${relay.port}. Enrol them with --address http://THIS-MACHINE:${relay.port}.`,
    );
    return relay;
  } catch (error) {
    fail(
      `The relay cannot listen on ${at.host}:${at.port} (${(error as NodeJS.ErrnoException).code ?? 'failed'}).`,
    );
    return undefined;
  }
}

async function main(): Promise<void> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      address: { type: 'string', multiple: true, default: [] },
      code: { type: 'string' },
      name: { type: 'string' },
      data: { type: 'string', default: DEFAULT_DATA },
      'may-read': { type: 'string', multiple: true, default: [] },
      processes: { type: 'string' },
      'relay-on': { type: 'string' },
      help: { type: 'boolean', short: 'h', default: false },
    },
  });
  const [command] = positionals;
  const data = resolve(values.data);
  if (values.help) return say(HELP);
  if (command === 'enrol')
    return enrolHere({ ...values, addresses: values.address, data, allowed: values['may-read'] });
  if (command === 'run') {
    const most = Math.min(MOST_PROCESSES, availableParallelism());
    const wanted = Number(values.processes ?? most);
    if (!Number.isInteger(wanted) || wanted < 1 || wanted > MOST_PROCESSES)
      return fail(`--processes takes a number from 1 to ${MOST_PROCESSES}.`, WRONG_USAGE);
    return runHere(data, wanted, values['relay-on']);
  }
  if (command === 'show') {
    const identity = identityIn(data);
    if (!identity) return fail(`No reader is enrolled in ${data}.`);
    say(`"${identity.name}" of ${identity.address}; its keys live until ${identity.keyEndsAt}.`);
    return tellRights(await rightsOf(identity.allowed));
  }
  if (command === 'waiting' || command === 'answer') {
    const identity = identityIn(data);
    if (!identity) return fail(`No reader is enrolled in ${data}.`);
    const workbench = new Workbench(
      () => identity,
      new AbortController().signal,
      () => undefined,
    );
    if (command === 'waiting') return (await waitingLines(data, workbench)).forEach(say);
    const [, number = '', leads = '', ...words] = positionals;
    if ((leads !== 'goes-on' && leads !== 'stays') || words.length === 0)
      return fail(`answer needs a number, goes-on or stays, and why.\n\n${HELP}`, WRONG_USAGE);
    return say(await answerFor(data, workbench, { number, leads, words: words.join(' ') }));
  }
  fail(`"${command ?? ''}" is no command.\n\n${HELP}`, WRONG_USAGE);
}

process.umask(0o077);
try {
  await main();
} catch (error) {
  const known = error instanceof Refused || (error instanceof TypeError && error.message === 'fetch failed');
  const isUsage = (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS');
  if (isUsage) fail(`${(error as Error).message}\n\n${HELP}`, WRONG_USAGE);
  else if (known)
    fail(error instanceof Refused ? error.message : 'The workbench does not answer at this address.');
  else throw error;
}
process.exit();
