import type { TrailEntity } from './trail.entity.js';

/** Facility 13 is the audit log's (RFC 5424, 6.2.1). */
const AUDIT = 13;
/** Severity of what went as it should, and of a sign-in that failed. */
const NOTICE = 5;
const WARNING = 4;
/** Number for documents and examples (RFC 5612): a number of one's own would have to be registered. */
const ENTERPRISE = 32473;
const MOST_HOST = 255;
const MOST_MESSAGE_ID = 32;
/** UTF-8 begins so (RFC 5424, 6.4). */
const BOM = '\uFEFF';

type Sent = Pick<TrailEntity, 'number' | 'at' | 'actor' | 'action' | 'target' | 'facts' | 'hash'>;

/**
 * One entry of the trail as a message of RFC 5424, framed by its length in octets (RFC 5425, 4.3). The parts stand as
 * structured data; the hash lets whoever keeps the messages check the chain.
 */
export function syslogFrame(entry: Sent, host: string): Buffer {
  const { number, at, actor, action, target, facts, hash } = entry;
  const severity = action === 'sign-in-failed' ? WARNING : NOTICE;
  const named = Object.entries(facts).map(([name, value]) => parameter(nameIn(`fact-${name}`), value));
  const data = [
    `lantern@${ENTERPRISE}`,
    ...[parameter('number', String(number)), parameter('actor', actor), parameter('action', action)],
    ...[parameter('target', target), ...named, parameter('hash', hash)],
  ];
  const head = [
    `<${AUDIT * 8 + severity}>1`,
    at.toISOString(),
    visible(host).slice(0, MOST_HOST) || '-',
    ...['lantern', '-', visible(action).slice(0, MOST_MESSAGE_ID) || '-'],
    `[${data.join(' ')}]`,
  ];
  const message = Buffer.from(`${head.join(' ')} ${BOM}${oneLine(`${actor} ${action} ${target}`.trim())}`);
  return Buffer.concat([Buffer.from(`${message.length} `), message]);
}

/** A quote, a backslash and a closing bracket are escaped (RFC 5424, 6.3.3). */
const parameter = (name: string, value: string): string =>
  `${name}="${oneLine(value).replace(/["\\\]]/gu, '\\$&')}"`;

/** Names take no space, equals sign, bracket or quote, and 32 characters (RFC 5424, 6.3.3). */
const nameIn = (text: string): string =>
  visible(text)
    .replace(/[=\]"]/gu, '_')
    .slice(0, 32);

/** Printable US-ASCII without spaces (RFC 5424, 6). */
const visible = (text: string): string => text.replace(/[^\x21-\x7e]/gu, '_');

// What somebody typed as an address must not begin a line of its own where messages are shown.
// eslint-disable-next-line no-control-regex -- these are what is taken out
const oneLine = (text: string): string => text.replace(/[\x00-\x1f\x7f]/gu, ' ');
