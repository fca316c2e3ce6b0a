import type { Channel } from '../../movement/movement.js';
import type { Severity } from '../../policy/model/answers.js';

/** A finding of another system, as far as this one understands it. */
export interface ReportedFinding {
  /** Name of the system that found it. */
  readonly origin: string;
  /** By which that system knows it; the same finding handed in again has the same. */
  readonly uid: string;
  readonly title: string;
  readonly text: string;
  readonly severity: Severity;
  /** Milliseconds since 1970; null where it says none. */
  readonly at: number | null;
  /** Address of the person it is about; null where it names none. */
  readonly person: string | null;
  readonly machine: string | null;
  readonly channel: Channel;
}

/** What is wrong with a finding, and where: a path of attribute names. */
export interface FindingFault {
  readonly code: 'no-object' | 'other-class' | 'own-finding' | 'missing' | 'wrong-kind' | 'bad-time';
  readonly at: string;
}

export type ReadFinding =
  | { readonly status: 'read'; readonly finding: ReportedFinding }
  | { readonly status: 'faulty'; readonly fault: FindingFault };

/** Name under which this system's own findings are exported: taken in, they would be counted twice. */
export const OWN_PRODUCT = 'Uncut Lantern';

/**
 * Classes of OCSF that say somebody or something did something with data: security finding (deprecated since 1.1), detection
 * finding, and data security finding (since 1.2). From memory of the schema at version 1.3.
 */
const CLASSES: ReadonlySet<number> = new Set([2001, 2004, 2006]);
/** `severity_id`: unknown, informational, low, medium, high, critical, fatal. What is unknown is looked at as medium. */
const SEVERITIES: readonly Severity[] = ['medium', 'low', 'low', 'medium', 'high', 'critical', 'critical'];
const NAME_LENGTH = 100;
const UID_LENGTH = 400;
const TITLE_LENGTH = 400;
const TEXT_LENGTH = 20_000;
const ADDRESS = /^[^\s@]{1,64}@[^\s@]{1,189}$/u;
/** Marks that turn the direction of writing, and control characters. */
const TURNING = /[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu;

type Attributes = Readonly<Record<string, unknown>>;

/** Reads one finding in the form of the Open Cybersecurity Schema Framework. What it does not know is passed over. */
export function readFinding(value: unknown): ReadFinding {
  const faulty = (code: FindingFault['code'], at: string): ReadFinding => ({
    status: 'faulty',
    fault: { code, at },
  });
  const finding = attributes(value);
  if (!finding) return faulty('no-object', '');
  const classId = finding['class_uid'];
  if (classId === undefined) return faulty('missing', 'class_uid');
  if (typeof classId !== 'number') return faulty('wrong-kind', 'class_uid');
  if (!CLASSES.has(classId)) return faulty('other-class', 'class_uid');
  // The deprecated class has its title and id in `finding`.
  const place = classId === 2001 ? 'finding' : 'finding_info';
  const info = attributes(finding[place]);
  if (!info) return faulty('missing', place);
  const uid = textOf(info['uid'], UID_LENGTH);
  if (uid === null) return faulty(info['uid'] === undefined ? 'missing' : 'wrong-kind', `${place}.uid`);
  const title = textOf(info['title'], TITLE_LENGTH);
  if (title === null) return faulty(info['title'] === undefined ? 'missing' : 'wrong-kind', `${place}.title`);
  const origin = textOf(attributes(attributes(finding['metadata'])?.['product'])?.['name'], NAME_LENGTH);
  if (origin === null) return faulty('missing', 'metadata.product.name');
  if (origin === OWN_PRODUCT) return faulty('own-finding', 'metadata.product.name');
  const at = timeOf(finding['time'] ?? finding['time_dt']);
  if (at === 'bad') return faulty('bad-time', finding['time'] === undefined ? 'time_dt' : 'time');
  const severity = finding['severity_id'];
  if (severity !== undefined && typeof severity !== 'number') return faulty('wrong-kind', 'severity_id');
  const message = textOf(info['desc'], TEXT_LENGTH) ?? textOf(finding['message'], TEXT_LENGTH) ?? '';
  return {
    status: 'read',
    finding: {
      ...{ origin, uid, title, at, text: message },
      severity: SEVERITIES[severity ?? 0] ?? 'medium',
      person: personOf(finding),
      machine: textOf(attributes(finding['device'])?.['hostname'], NAME_LENGTH),
      channel: channelOf(finding),
    },
  };
}

const attributes = (value: unknown): Attributes | null =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Attributes) : null;

const listOf = (value: unknown): readonly Attributes[] =>
  (Array.isArray(value) ? (value as unknown[]) : []).map(attributes).filter((one) => one !== null);

function textOf(value: unknown, length: number): string | null {
  if (typeof value !== 'string') return null;
  const text = value.replace(TURNING, ' ').trim().slice(0, length);
  return text === '' ? null : text;
}

/** `time` is milliseconds since 1970, `time_dt` a time of RFC 3339. */
function timeOf(value: unknown): number | null | 'bad' {
  if (value === undefined || value === null) return null;
  const at = typeof value === 'number' ? value : typeof value === 'string' ? Date.parse(value) : Number.NaN;
  return Number.isFinite(at) && at >= 0 && at < LAST_MS ? Math.floor(at) : 'bad';
}

/** The last year that times are kept of. */
const LAST_MS = Date.UTC(9999, 0);

/** Whoever acted, else whoever the evidence or the item belongs to. */
function personOf(finding: Attributes): string | null {
  const actors = [finding, ...listOf(finding['evidences'])].map((one) =>
    attributes(attributes(one['actor'])?.['user']),
  );
  const owners = listOf(finding['resources']).map((one) => attributes(one['owner']));
  for (const user of [...actors, attributes(finding['user']), ...owners])
    for (const name of ['email_addr', 'name', 'uid']) {
      const text = textOf(user?.[name], 254)?.toLowerCase();
      if (text !== undefined && ADDRESS.test(text)) return text;
    }
  return null;
}

/** On what way data moved, by what stands in the evidence. */
function channelOf(finding: Attributes): Channel {
  const evidence = [finding, ...listOf(finding['evidences'])];
  const has = (...names: readonly string[]) =>
    evidence.some((one) => names.some((name) => one[name] !== undefined && one[name] !== null));
  if (has('email')) return 'mail';
  if (has('url', 'http_request')) return 'browser';
  if (has('databucket')) return 'drive';
  if (has('api', 'application', 'database')) return 'business';
  return 'endpoint';
}
