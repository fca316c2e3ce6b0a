import type { DirectoryEntry } from '@lantern/core/directory';
import { MAX_PEOPLE } from '@lantern/core/directory';
import { Client } from 'ldapts';
import type { ServerSettings } from '../directory.entity.js';
import { SourceRefused } from './source-refused.js';

export interface ServerOrder extends Pick<
  ServerSettings,
  'address' | 'startTls' | 'authority' | 'user' | 'base' | 'filter'
> {
  readonly password: string | null;
}

const CONNECT_WITHIN_MS = 10_000;
const ANSWER_WITHIN_MS = 30_000;
/** Entries of one answer (RFC 2696): servers refuse more than some hundreds or thousands. */
const PAGE = 500;
/** Groups are entries as well. */
const MOST_ENTRIES = MAX_PEOPLE * 2;
/** Read and no others: pictures and certificates would be most of the bytes. */
const ATTRIBUTES = [
  ...['objectClass', 'mail', 'rfc822Mailbox', 'userPrincipalName', 'displayName', 'cn', 'uid'],
  ...['department', 'departmentNumber', 'ou', 'physicalDeliveryOfficeName', 'l', 'title', 'manager'],
  ...['preferredLanguage', 'memberOf', 'member', 'uniqueMember', 'memberUid', 'entryUUID', 'employeeNumber'],
];

/** Entries of a directory server, by LDAP (RFC 4511), page by page. Throws {@link SourceRefused} with what was wrong. */
export async function readServer(order: ServerOrder): Promise<DirectoryEntry[]> {
  // The name that the certificate has to be for; a connection that becomes encrypted later knows of none by itself.
  const host = new URL(order.address).hostname.replace(/^\[|\]$/g, '');
  const secure = { host, ...(order.authority === '' ? {} : { ca: [order.authority] }) };
  const isTls = order.address.toLowerCase().startsWith('ldaps:');
  const client = new Client({
    url: order.address,
    connectTimeout: CONNECT_WITHIN_MS,
    timeout: ANSWER_WITHIN_MS,
    strictDN: false,
    ...(isTls ? { tlsOptions: secure } : {}),
  });
  try {
    if (order.startTls && !isTls) await client.startTLS(secure);
    if (order.user !== '') await client.bind(order.user, order.password ?? '');
    const entries: DirectoryEntry[] = [];
    const pages = client.searchPaginated(order.base, {
      ...{ scope: 'sub', filter: order.filter, attributes: ATTRIBUTES },
      paged: { pageSize: PAGE },
    });
    for await (const { searchEntries } of pages) {
      for (const { dn, ...attributes } of searchEntries)
        entries.push({ dn, line: entries.length + 1, attributes: plain(attributes) });
      if (entries.length > MOST_ENTRIES)
        throw new SourceRefused(`It has more than ${MOST_ENTRIES.toLocaleString('en')} entries.`);
    }
    return entries;
  } catch (error) {
    throw error instanceof SourceRefused ? error : new SourceRefused(sentenceOf(error));
  } finally {
    await client.unbind().catch(() => undefined);
  }
}

function plain(attributes: Readonly<Record<string, unknown>>): ReadonlyMap<string, readonly string[]> {
  const texts = Object.entries(attributes).flatMap(([name, values]) => {
    const list = (Array.isArray(values) ? values : [values]) as readonly (string | Buffer)[];
    const written = list
      .map((value) => (Buffer.isBuffer(value) ? value.toString('utf8') : String(value)))
      .filter((value) => value !== '');
    return written.length === 0 ? [] : [[name.toLowerCase(), written] as const];
  });
  return new Map(texts);
}

/** Result codes of RFC 4511, appendix A, and of the network, in words. */
function sentenceOf(error: unknown): string {
  const { code, message = '' } = error as { readonly code?: number | string; readonly message?: string };
  if (code === 49) return 'The server does not accept this user name or password.';
  if (code === 32) return 'The server has no entry with the name in “Search from”.';
  if (code === 50) return 'This user may not search there.';
  if (code === 8 || code === 13) return 'The server requires an encrypted connection.';
  if (code === 4) return 'This user may read only some of the entries (size limit).';
  if (code === 3) return 'The server ended the search because it took too long.';
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return 'The host name is unknown.';
  if (code === 'ECONNREFUSED') return 'No server answers at this address and port.';
  if (typeof code === 'string' && /CERT|SELF_SIGNED|UNABLE_TO|ALTNAME/.test(code))
    return 'The certificate of the server is not trusted. Enter the certificate of its authority.';
  if (/time ?out/i.test(message)) return 'The server did not answer in time.';
  return typeof code === 'number'
    ? `The server refused the search (LDAP result ${code}).`
    : 'The connection to the server was lost.';
}
