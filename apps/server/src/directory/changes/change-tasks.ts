import type { DirectoryUpload } from '@lantern/contracts/directory';
import {
  type AudienceEffect,
  audienceEffects,
  type ColumnMeaning,
  type DirectoryEntry,
  type DirectoryPlan,
  domainOf,
  factsWith,
  fieldsOfMeanings,
  type GroupRule,
  isUnder,
  type ListedMachine,
  type ListedPlace,
  placeMeaningsOf,
  placeOfRow,
  placesOfEntries,
  machineMeaningsOf,
  machineOfRow,
  machinesOfEntries,
  type LdifFault,
  MAX_PEOPLE,
  meaningsOf,
  type NamedAudience,
  peopleOfEntries,
  type PersonFacts,
  type PersonRecord,
  planChange,
  readLdif,
  type ListedPerson,
  type VanishingName,
  vanishingNames,
} from '@lantern/core/directory';
import type { TaskModule } from '@lantern/processes';
import iconv from 'iconv-lite';
import { readUpload, type SealedUpload } from '../../platform/http/read-upload.js';
import { csvRows, encodingOf, MAX_ROW } from '../../platform/tables/read-csv.js';
import { readServer, type ServerOrder } from './read-server.js';
import { SourceRefused } from './source-refused.js';

/** Columns of a list of people; more are another kind of table. */
const MOST_COLUMNS = 200;
/** Values shown of each column. */
const SHOWN = 3;
/** What divides several groups in one cell. */
const GROUP_DIVIDERS = /[;|,]/;

/** Characters that no table or LDIF file has. */
// eslint-disable-next-line no-control-regex
const NO_TEXT = /[\0\x01-\x08\x0e-\x1a\x1c-\x1f]/;

/** What people are compared with. */
export interface ChangeOrder {
  readonly from:
    | {
        readonly kind: 'file';
        readonly upload: SealedUpload;
        readonly meanings?: readonly (ColumnMeaning | null)[];
      }
    | { readonly kind: 'server'; readonly server: ServerOrder }
    | { readonly kind: 'listed'; readonly told: readonly ListedPerson[] };
  readonly own: readonly PersonRecord[];
  readonly byHand: readonly PersonRecord[];
  /** People of other sources, except those entered by hand. */
  readonly others: readonly PersonRecord[];
  readonly domains: readonly string[];
  readonly groups: readonly GroupRule[];
  readonly whole: boolean;
  readonly audiences: readonly NamedAudience[];
}

export type ChangeAnswer =
  | {
      readonly status: 'planned';
      readonly plan: DirectoryPlan;
      readonly faults: readonly LdifFault[];
      readonly effects: readonly AudienceEffect[];
      readonly vanishing: readonly VanishingName[];
      readonly isIncomplete: boolean;
    }
  | { readonly status: 'refused'; readonly sentence: string };

export type UploadAnswer =
  | { readonly status: 'read'; readonly upload: Omit<DirectoryUpload, 'upload'> }
  | { readonly status: 'refused'; readonly sentence: string };

const refused = (error: unknown, otherwise: string) => ({
  status: 'refused' as const,
  sentence: error instanceof SourceRefused ? error.message : otherwise,
});

/** Says what an uploaded file holds. */
async function inspect(upload: SealedUpload): Promise<UploadAnswer> {
  try {
    if (await isLdif(upload)) {
      const { told } = await ldifOf(upload);
      return { status: 'read', upload: { kind: 'ldif', columns: [], people: told.length } };
    }
    const { headings, rows } = await tableOf(upload);
    const meanings = meaningsOf(headings);
    const columns = headings.map((heading, column) => ({
      heading: heading.trim() || `column ${column + 1}`,
      meaning: meanings[column] ?? null,
      examples: [...new Set(rows.map(({ cells }) => cells[column]?.trim() ?? '').filter(Boolean))]
        .slice(0, SHOWN)
        .map((each) => each.slice(0, 60)),
    }));
    return { status: 'read', upload: { kind: 'table', columns, people: rows.length } };
  } catch (error) {
    return refused(error, 'It is not a CSV or LDIF file that we can read.');
  }
}

/** Compares what a file or a server tells with the directory. */
async function compare(order: ChangeOrder): Promise<ChangeAnswer> {
  try {
    const { told, faults } = await readSource(order.from);
    if (told.length > MAX_PEOPLE)
      throw new SourceRefused(`It lists more than ${MAX_PEOPLE.toLocaleString('en')} people.`);
    // Whoever is in an entry that could not be read has not left.
    const isIncomplete = faults.some(({ losesEntry }) => losesEntry);
    const plan = planChange(told, {
      ...{ own: order.own, byHand: order.byHand, whole: order.whole && !isIncomplete },
      elsewhere: new Set(order.others.map(({ address }) => address)),
      isInside: (address) => order.domains.some((domain) => isUnder(domainOf(address), domain)),
    });
    return { status: 'planned', plan, faults, isIncomplete, ...concerned(plan, order) };
  } catch (error) {
    return refused(error, 'It could not be read completely.');
  }
}

/** Which audiences would mean other people, and which of their names nobody would have any more. */
function concerned(plan: DirectoryPlan, { own, byHand, others, groups, audiences }: ChangeOrder) {
  const facts = (person: PersonRecord): PersonFacts => factsWith(person, groups);
  const effects = audienceEffects(audiences, [
    ...plan.added.map((person) => ({ before: null, after: facts(person) })),
    ...plan.left.map((person) => ({ before: facts(person), after: null })),
    ...plan.changed.map(({ before, after }) => ({ before: facts(before), after: facts(after) })),
  ]);
  const before = [...own, ...byHand, ...others];
  const gone = new Set([...plan.left, ...plan.changed.map((step) => step.before)]);
  const after = [
    ...before.filter((person) => !gone.has(person)),
    ...plan.changed.map((step) => step.after),
    ...plan.added,
  ];
  return { effects, vanishing: vanishingNames(audiences, before.map(facts), after.map(facts)) };
}

async function readSource(from: ChangeOrder['from']): Promise<{
  readonly told: readonly ListedPerson[];
  readonly faults: readonly LdifFault[];
}> {
  if (from.kind === 'listed') return { told: from.told, faults: [] };
  if (from.kind === 'server') return { told: peopleOfEntries(await readServer(from.server)), faults: [] };
  if (await isLdif(from.upload)) return ldifOf(from.upload);
  const { headings, rows } = await tableOf(from.upload);
  const meanings = from.meanings ?? meaningsOf(headings);
  if (meanings.length !== headings.length)
    throw new SourceRefused(`It has ${headings.length} columns. State what each one holds.`);
  if (!meanings.includes('address'))
    throw new SourceRefused('No column is marked as the mail address. Choose one.');
  return { told: rows.map(({ number, cells }) => personOfRow(number, cells, meanings)), faults: [] };
}

async function textOf(upload: SealedUpload): Promise<string> {
  const encoding = await encodingOf(upload);
  const pieces: Buffer[] = [];
  for await (const piece of await readUpload(upload)) pieces.push(piece as Buffer);
  return iconv.decode(Buffer.concat(pieces), encoding);
}

/** LDIF begins with a version or the name of an entry, after remarks and empty lines. Throws for what is no text. */
async function isLdif(upload: SealedUpload): Promise<boolean> {
  const encoding = await encodingOf(upload);
  const file = await readUpload(upload);
  let head = '';
  for await (const piece of file) {
    head = iconv.decode(piece as Buffer, encoding).slice(0, 64_000);
    break;
  }
  file.destroy();
  if (NO_TEXT.test(head)) throw new SourceRefused('It is not a text file. Save it as CSV or LDIF.');
  return /^\uFEFF?(?:#[^\n]*\n(?: [^\n]*\n)*|[ \t]*\r?\n)*(?:version: *\d|dn::? )/iu.test(head);
}

async function ldifOf(upload: SealedUpload) {
  const { entries, faults } = readLdif(await textOf(upload), decodeBase64);
  return { told: peopleOfEntries(entries), faults };
}

function decodeBase64(text: string): string | null {
  const plain = text.trim();
  if (!/^[A-Za-z0-9+/]*={0,2}$/.test(plain) || plain.length % 4 !== 0) return null;
  return Buffer.from(plain, 'base64').toString('utf8');
}

async function tableOf(upload: SealedUpload) {
  let headings: readonly string[] | null = null;
  const rows: { readonly number: number; readonly cells: readonly string[] }[] = [];
  for await (const { number, cells } of csvRows(upload, await encodingOf(upload))) {
    if (cells.some((cell) => cell.length > MAX_ROW))
      throw new SourceRefused(`Row ${number} has no end: a quotation mark is not closed.`);
    if (!headings) headings = cells.map((cell) => cell.replace(/^\uFEFF/, ''));
    else rows.push({ number, cells });
    if (rows.length > MAX_PEOPLE)
      throw new SourceRefused(`It lists more than ${MAX_PEOPLE.toLocaleString('en')} people.`);
  }
  if (!headings || rows.length === 0) throw new SourceRefused('It has no rows below the headings.');
  if (headings.length > MOST_COLUMNS)
    throw new SourceRefused(`It has ${headings.length} columns; at most ${MOST_COLUMNS} are read.`);
  return { headings, rows };
}

function personOfRow(
  line: number,
  cells: readonly string[],
  meanings: readonly (ColumnMeaning | null)[],
): ListedPerson {
  const cell = (meaning: ColumnMeaning): string => {
    const column = meanings.indexOf(meaning);
    return column === -1 ? '' : (cells[column]?.trim() ?? '');
  };
  const name = cell('name') || [cell('given-name'), cell('family-name')].filter(Boolean).join(' ');
  const all = {
    name,
    department: cell('department'),
    office: cell('office'),
    title: cell('title'),
    language: cell('language'),
    zone: cell('zone'),
    groups: cell('groups')
      .split(GROUP_DIVIDERS)
      .map((group) => group.trim())
      .filter(Boolean),
    manager: cell('manager') || null,
  };
  const said = fieldsOfMeanings(meanings);
  const fields = Object.fromEntries(said.map((field) => [field, all[field]])) as ListedPerson['fields'];
  return { line, address: cell('address'), key: cell('key') || null, fields };
}

/** All entries of an LDIF file; throws where one of them cannot be read. */
async function entriesOf(upload: SealedUpload): Promise<readonly DirectoryEntry[]> {
  const { entries, faults } = readLdif(await textOf(upload), decodeBase64);
  const [fault] = faults;
  if (fault) throw new SourceRefused(`Line ${fault.line} of the LDIF file cannot be read.`);
  return entries;
}

export type MachinesAnswer =
  | { readonly status: 'read'; readonly told: readonly ListedMachine[]; readonly ignored: readonly string[] }
  | { readonly status: 'refused'; readonly sentence: string };

/** Reads an inventory of machines: a table, or entries of a directory. */
async function machines(upload: SealedUpload): Promise<MachinesAnswer> {
  try {
    if (await isLdif(upload))
      return { status: 'read', told: machinesOfEntries(await entriesOf(upload)), ignored: [] };
    const { headings, rows } = await tableOf(upload);
    const meanings = machineMeaningsOf(headings);
    if (!meanings.includes('name'))
      throw new SourceRefused(
        'No column holds the names of machines. Name its heading “Name” or “Host name”.',
      );
    const told = rows.map(({ number, cells }) => machineOfRow(number, cells, meanings));
    const ignored = headings.filter((_heading, at) => meanings[at] === null).map((each) => each.slice(0, 60));
    return { status: 'read', told, ignored };
  } catch (error) {
    return refused(error, 'It is not a CSV or LDIF file that we can read.');
  }
}

export type PlacesAnswer =
  | { readonly status: 'read'; readonly told: readonly ListedPlace[]; readonly ignored: readonly string[] }
  | { readonly status: 'refused'; readonly sentence: string };

/** Reads a list of places. */
async function places(upload: SealedUpload): Promise<PlacesAnswer> {
  try {
    if (await isLdif(upload))
      return { status: 'read', told: placesOfEntries(await entriesOf(upload)), ignored: [] };
    const { headings, rows } = await tableOf(upload);
    const meanings = placeMeaningsOf(headings);
    if (!meanings.includes('name'))
      throw new SourceRefused('No column holds the names of places. Name its heading “Name”.');
    const told = rows.map(({ number, cells }) => placeOfRow(number, cells, meanings));
    const ignored = headings.filter((_heading, at) => meanings[at] === null).map((each) => each.slice(0, 60));
    return { status: 'read', told, ignored };
  } catch (error) {
    return refused(error, 'It is not a CSV or LDIF file that we can read.');
  }
}

export const tasks = { inspect, compare, machines, places } satisfies TaskModule['tasks'];
