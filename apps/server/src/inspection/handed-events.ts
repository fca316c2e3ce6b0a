import { createHash } from 'node:crypto';
import { EVENT_TYPES, type EventType } from '@lantern/contracts';
import { CloudEvent } from 'cloudevents';
import { type ReadMovement, readMovement } from './handed-in.js';

/** How a request carries its events (HTTP protocol binding for CloudEvents 1.0.2, 3.1 to 3.3). */
export type EventMode = 'one' | 'several' | 'in-headers';

/** An event as it came: a movement to be judged, or what is wrong with it. */
export type ReadEvent = { readonly source: string; readonly id: string } & (
  | { readonly status: 'read'; readonly happened: boolean; readonly movement: ReadMovement }
  | { readonly status: 'refused'; readonly message: string }
);

export type EventsReading =
  | { readonly status: 'read'; readonly events: readonly ReadEvent[] }
  | { readonly status: 'refused'; readonly why: 'no-json' | 'no-movements' | 'too-many' };

/** Names of events are of strangers: longer ones are cut where they are said again. */
const LONGEST_NAME = 200;

/** Takes events apart. `attributes` are those that stand in headers, without `ce-`. */
export function readHandedEvents(
  body: Uint8Array,
  most: number,
  mode: EventMode,
  attributes: Readonly<Record<string, string>>,
): EventsReading {
  let parsed: unknown;
  try {
    parsed = JSON.parse(Buffer.from(body.buffer, body.byteOffset, body.byteLength).toString('utf8'));
  } catch {
    return { status: 'refused', why: 'no-json' };
  }
  const events: unknown[] =
    mode === 'several'
      ? Array.isArray(parsed)
        ? parsed
        : []
      : mode === 'one'
        ? [parsed]
        : [{ ...attributes, data: parsed }];
  if (events.length === 0) return { status: 'refused', why: 'no-movements' };
  if (events.length > most) return { status: 'refused', why: 'too-many' };
  return { status: 'read', events: events.map(readEvent) };
}

function readEvent(given: unknown): ReadEvent {
  const attributes = (typeof given === 'object' && given !== null ? given : {}) as Record<string, unknown>;
  const named = { source: nameOf(attributes['source']), id: nameOf(attributes['id']) };
  const refused = (message: string): ReadEvent => ({ ...named, status: 'refused', message });
  const missing = ['specversion', 'id', 'source', 'type'].find(
    (name) => typeof attributes[name] !== 'string',
  );
  if (missing) return refused(`The event has no ${missing}.`);
  if (attributes['specversion'] !== '1.0') return refused('The event must be of specversion 1.0.');
  try {
    // Refuses names of attributes, sources and times that the standard does not allow.
    new CloudEvent(attributes as ConstructorParameters<typeof CloudEvent>[0], true);
  } catch {
    return refused('The event is no CloudEvent 1.0: one of its attributes is not allowed.');
  }
  const type = EVENT_TYPES.find((each) => each === attributes['type']);
  if (!type) return refused(`type must be one of ${EVENT_TYPES.join(', ')}.`);
  return { ...named, ...movementOf(attributes, type) };
}

/** The same event gives the same key, whoever sends it again (CloudEvents 1.0.2: source and id together are unique). */
function movementOf(
  { source, id, time, data }: Record<string, unknown>,
  type: EventType,
): { status: 'read'; happened: boolean; movement: ReadMovement } | { status: 'refused'; message: string } {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    return { status: 'refused', message: 'The event has no data, or none as JSON.' };
  const { application, use, ...rest } = data as Record<string, unknown>;
  const deed = typeof use === 'object' && use !== null && 'deed' in use ? use.deed : undefined;
  if (typeof application !== 'string' || deed === undefined)
    return {
      status: 'refused',
      message: 'data must name the application and what is done in it (use.deed).',
    };
  const key = createHash('sha256')
    .update(`${String(source)}\n${String(id)}`)
    .digest('hex');
  return {
    status: 'read',
    happened: type === 'uncut-lantern.use.happened',
    movement: readMovement({
      ...rest,
      ...{ key, channel: 'business', activity: deed, at: typeof time === 'string' ? time : null, use },
      takenFrom: [{ kind: 'application', name: application }],
    }),
  };
}

const nameOf = (value: unknown): string => (typeof value === 'string' ? value.slice(0, LONGEST_NAME) : '');
